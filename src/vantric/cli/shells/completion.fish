# Completion of %(prog_name)s in fish.
function %(complete_func)s
    set -l line (commandline -cp)
    for one in (VANTRIC_LINE=$line %(complete_var)s=fish_complete %(prog_name)s 2> /dev/null)
        set -l fields (string split \t -- $one)
        switch $fields[1]
            case file
                __fish_complete_path $fields[2]
            case plain open
                printf '%%s\t%%s\n' $fields[2] $fields[3]
        end
    end
end
complete --no-files --command %(prog_name)s --arguments "(%(complete_func)s)"
