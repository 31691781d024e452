# bash completion of plenzo: source <(plenzo completion bash)
# The words are the client's and the server's; bash splits at @ : and =, so what stands before the last of them is cut.
_plenzo() {
  local line="${COMP_LINE:0:COMP_POINT}" typed cut="" word
  typed="${line##*[[:space:]]}"
  case "$typed" in
    *[@:=]*) cut="${typed%"${typed##*[@:=]}"}" ;;
  esac
  COMPREPLY=()
  while IFS= read -r word; do
    COMPREPLY+=("${word#"$cut"}")
  done < <("$1" __complete "$line" 2>/dev/null)
  case "${COMPREPLY[0]-}" in
    *@) compopt -o nospace 2>/dev/null ;;
  esac
}
complete -o default -F _plenzo plenzo
