#!/usr/bin/env bash
# Takes the pictures of docs/screenshots anew, at about 1280x800: the page in headless Chromium, the terminal in an xterm under
# Xvfb. Needs Debian's packages xvfb, xterm, imagemagick and fonts-dejavu-core.
set -euo pipefail
cd "$(dirname "$0")/.."
npm run build
node scripts/page-pictures.mjs

display=:87
Xvfb $display -screen 0 1280x800x24 -nolisten tcp &
screen=$!
trap 'kill $screen' EXIT
sleep 1
folder=$(mktemp -d)
mellow="$PWD/packages/cli/bin/mellow.js"

# picture NAME COMMAND [SECONDS]: what a command shows in a terminal of 158 columns after so long, 4 seconds unless given.
picture() {
  (cd "$folder" && LC_ALL=C.UTF-8 DISPLAY=$display xterm -u8 -fa 'DejaVu Sans Mono' -fs 9.5 -b 8 +sb -bg '#101418' -fg '#e6e6e6' -geometry 158x47+0+0 \
    -e bash -c "mellow() { node '$mellow' \"\$@\"; }; say() { printf '$ mellow'; for word; do case \"\$word\" in *[!A-Za-z0-9._=/-]*) printf \" '%s'\" \"\$word\" ;; *) printf ' %s' \"\$word\" ;; esac; done; echo; mellow \"\$@\"; echo; }; $2; sleep 30") &
  local terminal=$!
  sleep "${3:-4}"
  DISPLAY=$display import -window root "docs/screenshots/$1.png"
  kill $terminal 2>/dev/null || true
  wait $terminal 2>/dev/null || true
}

picture demo 'mellow demo honey' 20
picture calc "echo \"\$ mellow calc honey/inspections.csv 'infestation = 100 * mites per bees_sampled' 'act = if(infestation > 3, \\\"treat\\\", \\\"wait\\\")'\"; mellow calc honey/inspections.csv 'infestation = 100 * mites per bees_sampled' 'act = if(infestation > 3, \"treat\", \"wait\")' --limit 34"
picture explain "for formula in '100 * mites per bees_sampled' \"act = case when infestation is blank then 'sample again' when infestation > 3 then 'treat' else 'wait' end\" 'score = weighted(brood_frames at 50%, stores_kg at 30%, temper at 20%)'; do echo \"\$ mellow explain \\\"\$formula\\\"\"; mellow explain \"\$formula\"; echo; done; echo '\$ mellow explain \"mitse / 2\" --with honey/inspections.csv'; mellow explain 'mitse / 2' --with honey/inspections.csv" 8
picture workbook "for table in hives inspections; do mellow import co honey/\$table.csv >/dev/null 2>&1; done; mellow link co 'inspections.hive -> hives.tag' >/dev/null; say define co inspections 'infestation = 100 * mites per bees_sampled' 'act = if(infestation > 3, \"treat\", \"wait\")'; say define co hives 'worst = max(inspections.infestation)'; say set co inspections 3 mites=12; say why co inspections.act 3; say show co hives --order 'worst desc' --limit 3; say set co inspections 3 act=wait; say history co --limit 4" 14
picture reading "printf 'hive;kg;taken;scale\nLM-04;\"1,5\";12/06/2026;0.5\nLM-05;\"22,25\";13/06/2026;0.5\nLM-08;3;28/06/2026;1.5\n' > june.csv; say import june june.csv --key hive | head -1; mellow import july june.csv --table june --key hive --type kg=number:0,0 --type taken=date:dd/MM/yyyy >/dev/null 2>&1; say set july june 1 kg=4,75 taken=14/06/2026; say set july june 2 kg=much; say define july june 'root = sqrt(kg - 4)' 'part = share(kg)'; mellow column july june.note:text >/dev/null; mellow set july june 3 'note=weighed twice' >/dev/null; printf 'hive;kg;taken;scale\nLM-05;\"22,25\";13/06/2026;0.5\nLM-04;\"1,5\";12/06/2026;0.5\nLM-05;2;14/06/2026;0.5\n' > june.csv; say reread july june" 15
picture functions 'for words in logic "split a name" split_part; do echo "$ mellow functions $words"; mellow functions "$words"; echo; done'
picture reports "say report honey/thistle-and-comb by_apiary --fold apiary; say report honey/thistle-and-comb forage_by_month; say fit honey/thistle-and-comb combs 'comb_cm2 by day' --degree 3" 8
node scripts/report-picture.mjs "$folder/honey/by_apiary.html" docs/screenshots/report-page.png
draw() { (cd "$folder" && node "$mellow" chart honey/thistle-and-comb "$1" -o "$1.png" 2>/dev/null) && cp "$folder/$1.png" "docs/screenshots/$2.png"; }
draw colonies chart-colonies
node scripts/chart-picture.mjs "$folder/honey/colonies.html" docs/screenshots/chart-page.png
