#!/bin/bash
# Starts the demo, fetches its calendar, and reads it by a reader that is not ours.
set -euo pipefail
dir=$(mktemp -d)
TZ=Europe/Oslo bin/orpine demo --data "$dir/data" --addr 127.0.0.1:0 > "$dir/said" &
program=$!
trap 'kill $program; wait $program 2>/dev/null; rm -rf "$dir"' EXIT
for _ in $(seq 200); do grep -q 'http://' "$dir/said" && break; sleep 0.1; done
url=$(grep -o 'http://[0-9.:]*' "$dir/said" | head -1)
curl -sf "$url/order.ics" > "$dir/order.ics"
curl -sfI "$url/order.ics" > /dev/null
/usr/bin/python3 tools/calendar/read.py "$dir/order.ics"
