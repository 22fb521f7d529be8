#!/usr/bin/env bash
# npm run faults: wrong files, kills, second servers, a full disk, many clients. Ends with 1 when a promise of docs/promises.md is not kept.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh
bash scripts/build.sh
exec node --import tsx scripts/faults/main.mts "$@"
