#!/usr/bin/env bash
# Asks a running demo for its rooms over HTTP: the first answer, and those from memory (p50 and p95 of 60), as a table.
set -euo pipefail
base=$1
cookies=$(mktemp)
trap 'rm -f "$cookies"' EXIT
ask() { curl -sfS --compressed -b "$cookies" "$@"; }
curl -sfS -c "$cookies" -H "origin: $base" -H 'content-type: application/json' \
  -d '{"name":"admin","password":"demo-admin-office"}' "$base/api/session" -o /dev/null
read -r study model < <(ask "$base/api/studies" | node -pe '
  const one = JSON.parse(require("fs").readFileSync(0))[1]; one.study.id + " " + one.model.id')
printf '| room | first, ms | p50 | p95 |\n|---|---|---|---|\n'
for path in studies "studies/$study/"{intake,strip,swap,closeup,handover} "models/$model/"{ways,score}; do
  urls=()
  for _ in $(seq 61); do urls+=(-o /dev/null "$base/api/$path"); done
  ask -w '%{time_total}\n' "${urls[@]}" | { read -r first; sort -n | awk -v f="$first" -v room="${path##*/}" '
    { t[NR] = 1000 * $1 } END { printf "| %s | %.1f | %.1f | %.1f |\n", room, 1000 * f, t[31], t[58] }'; }
done
