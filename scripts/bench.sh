#!/usr/bin/env bash
# npm run bench: ratios measured side by side in one run, and the time to the first frame.
set -euo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh test
bash scripts/build.sh
node --import tsx bench/core.ts
node --import tsx bench/skeletonWork.ts
node --import tsx bench/shapesWork.ts
node --import tsx bench/motion.ts
node --import tsx bench/speech.ts
node --import tsx bench/tracking.ts
node --import tsx bench/drivers.ts
node --import tsx bench/correctives.ts
YXOMORPH_TEST_PORT=4193 node --import tsx bench/firstFrame.ts
