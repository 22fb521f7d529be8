#!/usr/bin/env bash
# npm test: type check, lint, Jest, Playwright against the built application. Ends with "N passed, N failed".
set -uo pipefail
cd "$(dirname "$0")/.."
bash scripts/setup.sh test || exit 1
passed=0
failed=0
step() {
  echo "== $1"
  shift
  if "$@"; then passed=$((passed + 1)); else failed=$((failed + 1)); fi
}
count() { # adds the passed and failed tests of a JSON report
  read -r p f < <(node -e '
    const r=JSON.parse(require("fs").readFileSync(process.argv[1],"utf8"));
    console.log(r.stats?`${r.stats.expected+r.stats.flaky} ${r.stats.unexpected}`:`${r.numPassedTests} ${r.numFailedTests+r.numRuntimeErrorTestSuites}`)' "$1" 2>/dev/null || echo "0 1")
  passed=$((passed + p))
  failed=$((failed + f))
}
mkdir -p test-results
# two at a time: neither fills two cores alone; what one says is printed when it has ended
pair() {
  local first=$1 second=$2
  bash -c "$second" >test-results/second.log 2>&1 &
  local beside=$!
  step "$first" bash -c "$first"
  echo "== $second"
  if wait "$beside"; then passed=$((passed + 1)); else failed=$((failed + 1)); fi
  cat test-results/second.log
}
pair "npm run -s typecheck" "npm run -s lint"
# the made-up cast also fills the cache that the tests read
pair "node cli/yxomorph.mjs demo test-results/cast" "bash scripts/build.sh"
echo "== unit and outside tests"
rm -f test-results/*.json
YXOMORPH_CAST=test-results/cast npx jest --json --outputFile=test-results/jest.json
count test-results/jest.json
echo "== browser tests"
PLAYWRIGHT_JSON_OUTPUT_NAME=test-results/playwright.json npx playwright test --reporter=list,json
count test-results/playwright.json
echo "$passed passed, $failed failed"
[ "$failed" = 0 ]
