#compdef %(prog_name)s
# Completion of %(prog_name)s in zsh.
%(complete_func)s() {
    local -a lines fields values shown
    lines=("${(@f)$(VANTRIC_LINE="${(j: :)words[1,CURRENT-1]} $QIPREFIX$PREFIX" %(complete_var)s=zsh_complete %(prog_name)s 2> /dev/null)}")
    local item
    for item in $lines; do
        fields=("${(@ps:\t:)item}")
        case $fields[1] in
            file)
                [[ $PREFIX == --*=* ]] && compset -P '*='
                _files
                ;;
            plain) values+=("$fields[2]"); shown+=("$fields[2]${fields[3]:+  -- $fields[3]}") ;;
        esac
    done
    (( $#values )) && compadd -V vantric -d shown -a -- values
}
if ! (( $+functions[compdef] )); then
    autoload -Uz compinit && compinit -u
fi
compdef %(complete_func)s %(prog_name)s
