#!/usr/bin/env bash
# Plays swap studies on simulated phones by every policy and writes the section "Swap policies" of docs/benchmarks.md. Takes about
# an hour on two cores; PHONES, NOISY and OTHERS make it shorter.
set -euo pipefail
cd "$(dirname "$0")/.."
out=docs/benchmarks.md
{
  sed '/^## Swap policies/,$d' "$out"
  echo "## Swap policies"
  echo
  echo "Written by \`make bench-swap\` on $(date +%F): $(go version | cut -d' ' -f3), $(nproc) cores."
  echo
  go run ./cmd/benchswap -phones "${PHONES:-1000}" -noisy "${NOISY:-150}" -others "${OTHERS:-40}"
  echo
  sed -n '/^## Unlucky days/,$p' "$out"
} >"$out.tmp"
mv "$out.tmp" "$out"
sed -n '/^## Swap policies/,$p' "$out"
