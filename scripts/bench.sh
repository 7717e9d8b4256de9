#!/usr/bin/env bash
# Measures speed on this machine and writes docs/benchmarks.md. Nothing in the tests depends on it.
set -euo pipefail
cd "$(dirname "$0")/.."
make -s build
out=docs/benchmarks.md
var=$(mktemp -d)
port=8439
now() { date +%s%N; }
ms() { echo $((($(now) - $1) / 1000000)); }
up() {
  WARYOWL_VAR="$var" PORT=$port ./bin/waryowl demo >"$var/log" 2>&1 &
  pid=$!
  local start
  start=$(now)
  until curl -sf "http://127.0.0.1:$port/healthz" >/dev/null; do
    kill -0 "$pid" 2>/dev/null || { cat "$var/log" >&2; exit 1; }
    sleep 0.02
  done
  took=$(ms "$start")
}
down() { kill "$pid" && wait "$pid" || true; }
up; first=$took; down
up; again=$took
memory=$(scripts/bench-memory.sh "http://127.0.0.1:$port")
down
rm -rf "$var"
# slope reads lines of sizes and says how time and memory grow from each to the next: the power of the size.
slope() {
  awk '{ split($1, part, "/"); n = part[2] + 0; t = $3; m = $5; print
    if (seen) { k = log(n / before); printf "  from %d to %d: time as the power %.1f of the size, memory as %.1f\n", before, n, log(t / time) / k, log(m / room) / k }
    seen = 1; before = n; time = t; room = m }'
}
{
  echo "# Benchmarks"
  echo
  echo "Written by \`make bench\` on $(date +%F): $(go version | cut -d' ' -f3), $(nproc) cores, $(grep -m1 'model name' /proc/cpuinfo | cut -d: -f2 | xargs). One run; compare only figures of the same run."
  echo
  echo "| start | ms |"
  echo "|---|---|"
  echo "| first \`waryowl demo\`: database made, migrated, demo world loaded | $first |"
  echo "| every later one | $again |"
  echo
  echo "| page weight | KiB, gzip |"
  echo "|---|---|"
  for kind in js css woff2 wasm; do
    echo "| all $kind | $(find web/dist -name "*.$kind" -exec gzip -c {} + | wc -c | awk '{printf "%.0f", $1/1024}') |"
  done
  echo
  echo "Rooms of the demo over HTTP, the first answer after the start and those from memory (one connection, 60 answers):"
  echo
  echo "$memory"
  echo
  echo "Engines, and rooms of the demo study, each from an empty memory, read from MariaDB with relaxed flushing:"
  echo
  echo '```'
  go test -run '^$' -bench 'Run|Solve$|Rooms' -benchtime 2s ./internal/core/... ./demo 2>&1 | grep -E '^Benchmark|loads in' | sed 's/^ *//'
  echo '```'
  echo
  echo "Rooms of generated stores of 10,000 and 1,000,000 log entries (as many audit lines, baselines and trials in proportion), from an"
  echo "empty memory: the time of the whole room, of its statements with the reading of their rows, and how many times these the p95 is. The"
  echo "first reading finds the database cold and works out what is kept of twenty (cards) or forty studies (priors). The study \`old\` is of a model with a"
  echo "fiftieth of all entries; a note is written into both."
  echo
  echo '```'
  for n in 10000 "${LARGE:-1000000}"; do
    WARYOWL_LARGE=$n go test -run '^$' -bench Large -benchtime 40x -timeout 60m ./demo 2>&1 | grep -E '^Benchmark[^ ]+-|entries,' | sed 's/^ *//; s/ *[0-9]* ns\/op//'
  done
  echo '```'
  echo
  echo "One study of 300 steps, 120 parts, 60 trials of all checks and four phones; and 1, 16 and 64 connections on the swap room at once, the same room"
  echo "or every time another one:"
  echo
  echo '```'
  go test -run '^$' -bench Big -benchtime 3x -timeout 10m ./demo 2>&1 | grep -E '^Benchmark[^ ]+-' | sed 's/ *[0-9]* ns\/op//'
  go test -run '^$' -bench Connections -benchtime 5x -timeout 10m ./internal/server 2>&1 | grep -E '^Benchmark[^ ]+-' | sed 's/ *[0-9]* ns\/op//'
  echo '```'
  echo
  echo "A log line while 32 people ask without end for the shelf of the demo, which works for seconds; and a document of 40 MB put in, with the"
  echo "memory in use at most:"
  echo
  echo '```'
  go test -run '^$' -bench BesideHeavy -benchtime 60x -timeout 10m ./internal/server 2>&1 | grep -E '^Benchmark[^ ]+-' | sed 's/ *[0-9]* ns\/op//'
  go test -run '^$' -bench Document -benchtime 1x -timeout 10m ./internal/exchange 2>&1 | grep -E '^Benchmark[^ ]+-'
  echo '```'
  echo
  echo "How the swap study grows with its trials (15 slots, 46 checks, 2 % wrong readings), and the ways with the steps of the plan:"
  echo
  echo '```'
  for engine in swapstudy route; do
    go test -run '^$' -bench Growth -benchmem -benchtime 3x -timeout 20m ./internal/core/$engine 2>&1 | grep -E '^Benchmark[^ ]+-' | slope
  done
  echo '```'
  echo
  echo "Ways against CBC, a general solver of integer programmes from Debian, on the same instances (three seeds each, CBC stopped after 40 s):"
  echo
  echo '```'
  go test -run '^$' -bench AgainstSolver -benchtime 1x -timeout 30m ./internal/core/route 2>&1 | grep -E '^Benchmark|FAIL|solver_test' | sed 's/^ *//'
  echo '```'
  echo
  echo "Matching the parts of two models, the fewest lines to stock, and baskets (slots, offers, sellers; medians of five), beside CBC on the same instances:"
  echo
  echo '```'
  go test -run '^$' -bench AgainstSolver -benchtime 1x -timeout 10m ./internal/core/compare ./internal/core/fit ./internal/core/basket 2>&1 | grep -E '^Benchmark|FAIL' | sed 's/ *[0-9.]* ns\/op//'
  echo '```'
  echo
  echo "The bench line in the browser, read by the Go parser as WebAssembly:"
  echo
  echo '```'
  (cd e2e && E2E_PORT=8437 npx --no-install playwright test --config fluency.config.ts 2>&1 | grep -oE 'FLUENCY.*' | sed 's/FLUENCY //')
  echo '```'
  sed -n '/^## Swap policies/,$p' "$out" | sed '1i\\'
} >"$out.tmp"
mv "$out.tmp" "$out"
cat "$out"
