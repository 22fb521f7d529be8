#!/usr/bin/env bash
# npm run screenshots: draws docs/screenshots anew from the demo data, on a data folder of its own.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh test
bash scripts/build.sh
YXOMORPH_TEST_PORT=4194 node --import tsx scripts/screenshots.ts
