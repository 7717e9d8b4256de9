#!/usr/bin/env bash
# generated.sh FILE COMMAND… puts what the command prints below the first line of FILE that is a marker.
set -euo pipefail
file=$1
shift
kept=$(sed '/^<!-- generated/q' "$file")
{ printf '%s\n\n' "$kept"; "$@"; } > "$file.new"
mv "$file.new" "$file"
