# Completion of %(prog_name)s in fish.
function %(complete_func)s
    set -l line (commandline -cp)
    for item in (VANTRIC_LINE=$line %(complete_var)s=fish_complete %(prog_name)s 2> /dev/null)
        set -l fields (string split \t -- $item)
        switch $fields[1]
            case file
                # A path is looked up as it is, but for a home folder; what stands before it in its word is put back.
                set -l parts (string match --regex '^((?:--[^=]*=)?)((?:~/)?)(.*)$' -- $fields[2])
                for path in (__fish_complete_path "$parts[3]"(string escape -- "$parts[4]"))
                    printf '%%s\n' "$parts[2]$path"
                end
            case plain
                printf '%%s\t%%s\n' $fields[2] $fields[3]
        end
    end
end
complete --no-files --command %(prog_name)s --arguments "(%(complete_func)s)"
