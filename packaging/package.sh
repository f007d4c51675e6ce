#!/usr/bin/env bash
# A Debian package of what is committed: package.sh FOLDER VERSION.
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd) out=$1 version=$2
rm -rf "$out"
mkdir -p "$out"
out=$(cd "$out" && pwd)
tree=$out/marram-$version
mkdir "$tree"
git -C "$here" archive HEAD | tar -x -C "$tree"
cp -r "$tree/packaging/debian" "$tree/debian"
SOURCE_DATE_EPOCH=$(git -C "$here" log -1 --format=%ct)
export SOURCE_DATE_EPOCH
cat >"$tree/debian/changelog" <<LOG
marram ($version) unstable; urgency=medium

  * See CHANGELOG.md.

 -- The makers of Marram <marram@example.org>  $(date -R -u -d "@$SOURCE_DATE_EPOCH")
LOG
# The licences of what came from elsewhere, whole.
quoted() { sed -e 's/^[[:space:]]*$/./' -e 's/^/ /' "$1"; }
{
  printf '\nLicense: OFL-1.1\n'
  quoted "$tree/src/formats/paper/fonts/OFL.txt"
  printf '\nLicense: ISC\n'
  quoted "$tree/src/app/theme/icons/LICENSE"
} >>"$tree/debian/copyright"
(cd "$tree" && DEB_BUILD_OPTIONS="noautodbgsym parallel=$(nproc)" dpkg-buildpackage -b -us -uc >"$out/build.log" 2>&1) ||
  { tail -40 "$out/build.log"; exit 1; }
deb=$(ls "$out"/marram_*.deb)
lintian --fail-on error,warning --tag-display-limit 0 "$out"/marram_*.changes
# Into an empty tree and out of it again.
root=$(mktemp -d)
trap 'rm -rf "$root"' EXIT
mkdir -p "$root/var/lib/dpkg/info" "$root/var/lib/dpkg/updates" "$root/var/lib/dpkg/triggers"
touch "$root/var/lib/dpkg/status" "$root/var/lib/dpkg/available"
dpkg --root="$root" --force-depends --force-not-root --force-bad-path --force-script-chrootless --log=/dev/null -i "$deb" >/dev/null 2>&1
[ "$("$root/usr/bin/marram-cli" --version)" = "marram-cli $version" ]
"$root/usr/bin/marram-cli" demo --help >/dev/null
QT_QPA_PLATFORM=offscreen "$root/usr/bin/marram" --version >/dev/null
dpkg --root="$root" --force-not-root --force-bad-path --force-script-chrootless --log=/dev/null -P marram >/dev/null 2>&1
left=$(find "$root" -type f -not -path '*/var/lib/dpkg/*')
[ -z "$left" ] || { echo "left behind: $left"; exit 1; }
rm -rf "$tree"
sha256sum "$deb"
