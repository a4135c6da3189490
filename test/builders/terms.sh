#!/bin/bash
# Takes the terms of the gate away, one by one, in a copy of the program, and fails if the random
# builders let one of them be missed. TERMS=05 takes away that one alone.
set -u
root=$(cd "$(dirname "$0")/../.." && pwd)
copy=$(mktemp -d)
trap 'rm -rf "$copy"' EXIT
(cd "$root" && git ls-files -z | xargs -0 cp --parents -t "$copy")
cd "$copy" || exit 1
lived=0
for patch in "$root"/test/builders/terms/${TERMS:-}*.patch; do
	name=$(basename "$patch" .patch)
	if ! patch -s -p1 <"$patch"; then
		echo "$name: does not apply any more; write it anew"
		lived=$((lived + 1))
		git -C "$root" ls-files -z | (cd "$root" && xargs -0 cp --parents -t "$copy")
		continue
	fi
	if ! go vet ./test/builders 2>/dev/null; then
		echo "$name: does not build; write it anew"
		lived=$((lived + 1))
	elif says=$(ORPINE_BUILDERS=${BUILDERS:-60} go test -failfast -count=1 ./test/builders 2>&1); then
		echo "$name: lived ($(head -1 "$patch"))"
		lived=$((lived + 1))
	else
		echo "$name: noticed ($(head -1 "$patch")): $(grep -o 'seed [0-9]*: .*' <<<"$says" | head -1)"
	fi
	patch -s -R -p1 <"$patch"
done
echo "$lived lived"
[ "$lived" -eq 0 ]
