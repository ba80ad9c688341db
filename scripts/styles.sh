#!/bin/sh
# Builds the one style file of every page of chimney/styles and the parts of Bootstrap that it names, and says of which sources:
# a test holds both together. Nothing of npm is needed to run Chimney.
set -eu
cd "$(dirname "$0")/.."
built=chimney/static/css/chimney.css
of=$(LC_ALL=C; export LC_ALL; cat chimney/styles/*.scss | sha256sum | cut -c1-16)
for name in chimney pocket noscript; do
    node_modules/.bin/sass --no-source-map --style=compressed --quiet-deps --silence-deprecation=import \
        --load-path=node_modules "chimney/styles/$name.scss" "chimney/static/css/$name.css"
done
printf '/* Built of chimney/styles %s; with parts of Bootstrap (vendor/bootstrap.LICENSE) */' "$of" >> "$built"
