# fish completion of plenzo: plenzo completion fish | source
function __plenzo_complete
  set -l typed (commandline -opc)
  $typed[1] __complete (commandline -cp) 2>/dev/null
end
complete -c plenzo -a '(__plenzo_complete)'
