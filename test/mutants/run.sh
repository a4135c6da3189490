#!/bin/bash
# Applies the patches here one by one to a copy of the core, each a wrong sign, factor,
# convention or forgotten term, and fails if the core's tests let one of them live.
set -u
root=$(cd "$(dirname "$0")/../.." && pwd)
copy=$(mktemp -d)
trap 'rm -rf "$copy"' EXIT
cp -r "$root/go.mod" "$root/go.sum" "$copy"
mkdir -p "$copy/internal"
cp -r "$root/internal/core" "$root/internal/worksheet" "$copy/internal"
mkdir -p "$copy/docs" && cp -r "$root/docs/examples" "$copy/docs"
cd "$copy" || exit 1
tests="./internal/core/measure ./internal/core/pose ./internal/core/adjust ./internal/core/hold ./internal/core/row ./internal/worksheet"
if ! go test $tests >/dev/null 2>&1; then
	echo "the tests fail without any patch"
	exit 1
fi
survived=0
for patch in "$root"/test/mutants/*.patch; do
	name=$(basename "$patch" .patch)
	if ! patch -s -p1 --dry-run <"$patch" >/dev/null; then
		echo "$name: does not apply any more; write it anew"
		survived=$((survived + 1))
		continue
	fi
	patch -s -p1 <"$patch"
	if ! go build ./internal/... 2>/dev/null; then
		echo "$name: does not build; write it anew"
		survived=$((survived + 1))
	elif go test -failfast $tests >/dev/null 2>&1; then
		echo "$name: survived ($(head -1 "$patch"))"
		survived=$((survived + 1))
	else
		echo "$name: killed ($(head -1 "$patch"))"
	fi
	patch -s -R -p1 <"$patch"
done
echo "$survived survived"
[ "$survived" -eq 0 ]
