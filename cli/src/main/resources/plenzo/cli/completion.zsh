#compdef plenzo
# zsh completion of plenzo: source <(plenzo completion zsh)
_plenzo() {
  local -a found
  found=("${(@f)$("${words[1]}" __complete "${(j: :)words[1,CURRENT]}" 2>/dev/null)}")
  if [[ -n "${found[1]}" ]]; then
    compadd -S '' -q -- "${(M)found[@]:#*@}"
    compadd -- "${found[@]:#*@}"
  else
    _files
  fi
}
compdef _plenzo plenzo
