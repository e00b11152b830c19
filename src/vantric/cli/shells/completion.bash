# Completion of %(prog_name)s in bash.
%(complete_func)s() {
    local kind value help line=${COMP_LINE:0:COMP_POINT}
    COMPREPLY=()
    compopt +o filenames 2> /dev/null
    while IFS=$'\t' read -r kind value help; do
        case $kind in
            file)
                compopt -o filenames 2> /dev/null
                while IFS= read -r value; do COMPREPLY+=("$value"); done < <(compgen -f -- "$value")
                ;;
            plain) COMPREPLY+=("$value") ;;  # quoted already, for the word it stands in
        esac
    done < <(VANTRIC_LINE=$line VANTRIC_BREAKS=$COMP_WORDBREAKS %(complete_var)s=bash_complete %(prog_name)s 2> /dev/null)
}
complete -F %(complete_func)s %(prog_name)s
