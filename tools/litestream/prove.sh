#!/usr/bin/env bash
# Proves the continuous copy: a workshop is written to, both programs are killed, and the copy is
# restored and verified. Its last entry must be the workshop's own, or at most a second behind.
set -euo pipefail
dir=$(mktemp -d)
trap 'kill $(jobs -p) 2>/dev/null || true; rm -rf "$dir"' EXIT
export ORPINE_DATA=$dir/shop ORPINE_COPIES=$dir/copies
bin/orpine demo --data "$ORPINE_DATA" --addr 127.0.0.1:0 >"$dir/said" 2>&1 &
server=$!
until grep -q 'Orpine is at' "$dir/said"; do sleep 0.1; done
url=$(grep -o 'http://127[^ ]*' "$dir/said")
bin/litestream replicate -config tools/litestream/litestream.yml >"$dir/log" 2>&1 &
copier=$!
airframe=$(curl -s "$url/api/v1" | grep -o '"aircraft":\[{"id":"[^"]*' | cut -d'"' -f6)
for n in $(seq 40); do
  id=$(cat /proc/sys/kernel/random/uuid)
  curl -s -o /dev/null -w '' -H 'Sec-Fetch-Site: same-origin' -d "id=$id" -d "airframe=$airframe" -d 'cause=tool slipped' -d "place=proof $n" -d 'back=/' "$url/slips"
  sleep 0.1
done
sleep 3
last=$(curl -s "$url/api/v1" | grep -o '"seq":[0-9]*' | cut -d: -f2)
kill -9 $copier $server
bin/litestream restore -config tools/litestream/litestream.yml -o "$dir/restored.db" "$ORPINE_DATA/orpine.db" >>"$dir/log" 2>&1 || { tail -5 "$dir/log"; exit 1; }
mkdir "$dir/back"
bin/orpine restore "$dir/restored.db" --data "$dir/back"
got=$(bin/orpine verify --data "$dir/back" | grep -o '[0-9]*:[0-9a-f]\{10,\}' | head -1 | cut -d: -f1)
echo "the workshop ended at entry $last, the copy at $got"
[ "$got" = "$last" ]
