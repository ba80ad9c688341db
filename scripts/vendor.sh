#!/bin/sh
# Fetches the front-end files named in vendor.lock from the npm registry and checks each against its sha256.
# `scripts/vendor.sh --relock` writes the sums anew after a version was changed on purpose.
set -eu
here=$(cd "$(dirname "$0")/../chimney/static/vendor" && pwd)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
relock=${1:-}
cp "$here/vendor.lock" "$work/lock"
grep -v '^#' "$work/lock" | while read -r package version file kept sum; do
    folder="$work/$(echo "$package-$version" | tr '/@' '__')"
    if [ ! -d "$folder" ]; then
        mkdir -p "$folder"
        (cd "$folder" && tar xzf "$(npm pack --silent "$package@$version" 2>/dev/null)")
    fi
    cp "$folder/package/$file" "$here/$kept"
    new=$(sha256sum "$here/$kept" | cut -d' ' -f1)
    if [ "$relock" = --relock ]; then
        printf '%-34s %-7s %-48s %-30s %s\n' "$package" "$version" "$file" "$kept" "$new" >> "$work/new"
    elif [ "$new" != "$sum" ]; then
        echo "$kept is not the file that was locked" >&2
        exit 1
    fi
done
if [ "$relock" = --relock ]; then
    { grep '^#' "$work/lock"; cat "$work/new"; } > "$here/vendor.lock"
fi
echo "vendored files are as locked"
