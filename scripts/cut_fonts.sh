#!/bin/sh
# Cuts the two fonts of every page to the letters and weights that are used, so that a first visit is short; other letters come
# from the whole files when a page has them. Needs fonttools and brotli: pip install fonttools brotli.
set -eu
here=$(cd "$(dirname "$0")/../chimney/static" && pwd)
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
# As in styles/_tokens.scss: what is written in English, with the letters of its neighbours, units, fractions, dashes and arrows.
letters="U+0020-007E,U+00A0,U+00A9,U+00AB,U+00B0-00B3,U+00B5,U+00B7,U+00B9,U+00BB-00BE,U+00C4-00C6,U+00D6-00D8,U+00DC,U+00DF"
letters="$letters,U+00E4-00E6,U+00E8-00EB,U+00F6-00F8,U+00FC,U+2013,U+2014,U+2018-201D,U+2026,U+2032,U+2033,U+2190-2193,U+2212"
mkdir -p "$here/fonts"
# Headings have one weight, text several.
for one in bitter:650 source-sans-3:400:800; do
    name=${one%%:*}
    fonttools varLib.instancer --quiet "$here/vendor/$name-latin.woff2" "wght=${one#*:}" -o "$work/$name.ttf"
    # Copyright and licence stay in it, names of the family do not: it is no longer the whole of it.
    pyftsubset "$work/$name.ttf" --unicodes="$letters" --flavor=woff2 --name-IDs=0,13,14 \
        --layout-features=kern,liga,tnum,lnum,calt,ccmp,locl --output-file="$here/fonts/$name-cut.woff2"
done
