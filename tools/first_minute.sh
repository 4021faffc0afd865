#!/usr/bin/env bash
# How long a fresh clone takes to its page, and to the three pictures of Vellin Water, as whole seconds from nothing.
# Usage: tools/first_minute.sh [FOLDER]   a folder to clone into; it is removed again
set -euo pipefail
from=$(cd "$(dirname "$0")/.." && pwd)
work=${1:-$(mktemp -d)}
port=8790
began=$(date +%s)
git clone -q "$from" "$work/clone"
cd "$work/clone"
export XDG_CACHE_HOME="$work/cache"
setsid make demo DATA="$work/data" PORT=$port >"$work/said" 2>&1 &
server=$!
trap 'kill -- -$server 2>/dev/null; wait; rm -rf "$work"' EXIT

ask() { curl -sf -o "$1" -H 'Content-Type: application/json' "${@:2}"; }
told() { echo "$1 after $(($(date +%s) - began)) s"; }

until ask "$work/page" "http://127.0.0.1:$port/"; do
  kill -0 $server || { cat "$work/said"; exit 1; }
  sleep 0.5
done
told "page open"
ask "$work/ready" "http://127.0.0.1:$port/api/readiness" && grep -q '"title"' "$work/ready" && told "page tells what it does"
until ask "$work/sites" "http://127.0.0.1:$port/api/sites" && grep -q 'Vellin Water' "$work/sites"; do sleep 0.5; done
told "Vellin Water laid out"
site=$(python3 -c 'import json,sys; print(next(s["id"] for s in json.load(open(sys.argv[1]))["sites"] if s["title"] == "Vellin Water"))' "$work/sites")
# while what pictures need is still compiled, questions are put off
until ask "$work/state" "http://127.0.0.1:$port/api/sites/$site"; do sleep 0.5; done
for stand in far mid near; do
  python3 -c 'import json,sys; print(json.dumps({"recipe": json.load(open(sys.argv[1]))["recipe"], "stand": sys.argv[2], "width_px": 420, "height_px": 400}))' \
    "$work/state" $stand >"$work/question"
  until ask "$work/$stand.png" -d "@$work/question" "http://127.0.0.1:$port/api/picture"; do sleep 0.5; done
done
told "three pictures"
until ask "$work/ready" "http://127.0.0.1:$port/api/readiness" && ! grep -qE '"(running|waiting)"' "$work/ready"; do sleep 1; done
told "all drawn in full"
