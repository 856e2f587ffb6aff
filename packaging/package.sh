#!/usr/bin/env bash
# Builds what a shop installs: archives and Debian packages for two kinds of computer, with checksums and the list of what is in them.
# package.sh [--check] [x64|arm64 …]
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")/.."
check= archs=()
for a in "$@"; do case "$a" in --check) check=yes ;; x64 | arm64) archs+=("$a") ;; *) echo "There is no '$a': --check, x64, arm64." >&2; exit 2 ;; esac; done
[ "${#archs[@]}" -gt 0 ] || archs=(x64 arm64)
version=$(sed -nE 's#.*<Version>(.*)</Version>.*#\1#p' Directory.Build.props)
stamp=$(git rev-parse --short HEAD 2>/dev/null || echo unknown)
out=.build/package
mkdir -p "$out"
depends="libc6, libgcc-s1, libstdc++6, libssl3 | libssl3t64, zlib1g, tzdata, adduser"

for arch in "${archs[@]}"; do
  [ "$arch" = x64 ] && deb=amd64 || deb=arm64
  name=idrum-$version-linux-$arch
  root=$out/$name
  rm -rf "$root"
  echo "… $name" >&2
  # A build of its own: what the developer builds stays as it is, its lock files too.
  rm -rf "$out/src-$arch"
  mkdir -p "$out/src-$arch"
  git ls-files -z src content docs/guide docs/screenshots Directory.Build.props Directory.Packages.props global.json | xargs -0 cp --parents -t "$out/src-$arch"
  cp -r src/Idrum.Web/wwwroot "$out/src-$arch/src/Idrum.Web/"
  (cd "$out/src-$arch" && CI=false dotnet publish src/Idrum.Web -c Release -r "linux-$arch" --self-contained true -p:PublishReadyToRun=true \
    -p:PublishSingleFile=true -p:RestoreLockedMode=false -p:DebugType=none -p:GenerateDocumentationFile=false \
    -p:SourceRevisionId="$stamp" -o out -v q --nologo)
  mv "$out/src-$arch/out" "$root"
  rm -rf "$out/src-$arch"
  mv "$root/Idrum.Web" "$root/idrum"
  rm -f "$root"/*.pdb "$root"/*.xml "$root"/web.config
  chmod 0755 "$root/idrum"
  node src/Idrum.Web/Assets/sbom.mjs "$version" >"$root/sbom.cdx.json"
  cp packaging/INSTALL.txt "$root/"
  tar -C "$out" --owner=0 --group=0 -czf "$out/$name.tar.gz" "$name"

  tree=$out/deb-$arch
  rm -rf "$tree"
  mkdir -p "$tree/DEBIAN" "$tree/usr/lib" "$tree/usr/bin" "$tree/lib/systemd/system" "$tree/etc/idrum"
  cp -r "$root" "$tree/usr/lib/idrum"
  ln -s ../lib/idrum/idrum "$tree/usr/bin/idrum"
  cp packaging/idrum.service "$tree/lib/systemd/system/"
  cp packaging/settings "$tree/etc/idrum/settings"
  echo /etc/idrum/settings >"$tree/DEBIAN/conffiles"
  for s in postinst prerm postrm; do install -m 0755 "packaging/$s" "$tree/DEBIAN/$s"; done
  cat >"$tree/DEBIAN/control" <<TEXT
Package: idrum
Version: $version
Architecture: $deb
Maintainer: The Idrum team <nobody@localhost>
Section: misc
Priority: optional
Depends: $depends
Installed-Size: $(du -sk "$tree/usr" | cut -f1)
Description: dryer repair: diagnosis, teardown, refit and record
 Serves the shop's computer and the phones in its network. The shop's data lie
 in /var/lib/idrum and stay when the package is removed.
TEXT
  dpkg-deb --root-owner-group -Zgzip -b "$tree" "$out/idrum_${version}_$deb.deb" >/dev/null
  rm -rf "$tree"
  echo "$name.tar.gz: $(($(stat -c %s "$out/$name.tar.gz") / 1048576)) MB; idrum_${version}_$deb.deb: $(($(stat -c %s "$out/idrum_${version}_$deb.deb") / 1048576)) MB"
done
(cd "$out" && sha256sum ./*.tar.gz ./*.deb >SHA256SUMS)
[ -n "$check" ] || exit 0

# In a bare root: the system's base and what the package says it depends on, no SDK and no Node.
systemd-analyze verify packaging/idrum.service 2>&1 | grep -v "is not executable" || true
systemd-analyze security --offline=true packaging/idrum.service 2>/dev/null | tail -1
command -v mmdebstrap >/dev/null || { apt-get update >/dev/null && apt-get install -y --no-install-recommends mmdebstrap >/dev/null; }
bare=$(mktemp -d)/root
trap 'umount -l "$bare/proc" 2>/dev/null || true; rm -rf "$(dirname "$bare")"' EXIT
mmdebstrap --quiet --variant=minbase --include="$(echo "$depends" | sed -E 's/libssl3 \| libssl3t64/libssl3/; s/ //g'),curl" bookworm "$bare" 2>&1 | grep -v "^I:" || true
tar -C "$bare/opt" -xzf "$out/idrum-$version-linux-x64.tar.gz"
mount -t proc proc "$bare/proc" 2>/dev/null || true
run() { chroot "$bare" /usr/bin/env -i PATH=/usr/sbin:/usr/bin:/sbin:/bin HOME=/root "$@"; }
echo "== the archive in a bare root"
run "/opt/idrum-$version-linux-x64/idrum" version
run "/opt/idrum-$version-linux-x64/idrum" check --data /srv/shop
serve() {
  run "$@" >"$bare/tmp/said" 2>&1 &
  for _ in $(seq 100); do grep -q "ready at" "$bare/tmp/said" && return; sleep 0.1; done
  cat "$bare/tmp/said" >&2
  return 1
}
began=$(date +%s%N)
serve "/opt/idrum-$version-linux-x64/idrum" demo --port 5690 --data /srv/demo
run curl -sf http://127.0.0.1:5690/ >"$bare/tmp/page"
echo "the first page with the demo: $((($(date +%s%N) - began) / 1000000)) ms; health: $(run curl -s http://127.0.0.1:5690/health)"
grep -q "What needs you now" "$bare/tmp/page"
pkill -f "idrum demo --port 5690"
echo "== for phones of the network, in the bare root"
serve "/opt/idrum-$version-linux-x64/idrum" serve --data /srv/lan --port 5692 --lan 127.0.0.1 --lan-port 5693 --trust-port 5694
run curl -sf http://127.0.0.1:5694/idrum-authority.crt -o /tmp/authority
node -e 'const f = require("fs"), b = f.readFileSync(process.argv[1]); b[0] === 0x30 && f.writeFileSync(process.argv[1],
  `-----BEGIN CERTIFICATE-----\n${b.toString("base64").replace(/(.{64})/g, "$1\n")}\n-----END CERTIFICATE-----\n`)' "$bare/tmp/authority"
# A stranger of the network is shown how to be let in, and nothing of the shop.
run curl -s --cacert /tmp/authority -o /tmp/stranger -w "a stranger over TLS, its authority checked: %{http_code}\n" https://127.0.0.1:5693/
pkill -f "idrum serve --data /srv/lan"

echo "== the Debian package in a bare root, over the release before"
# What was released last, built by its own script from its own tree.
read -r last commit < <(grep -v '^#' packaging/released | tail -1)
old=$out/last
git worktree remove --force "$old" 2>/dev/null || rm -rf "$old"
git worktree prune
git worktree add --quiet --detach "$old" "$commit"
trap 'umount -l "$bare/proc" 2>/dev/null || true; rm -rf "$(dirname "$bare")"; git worktree remove --force "$old" 2>/dev/null || true' EXIT
cmp -s package-lock.json "$old/package-lock.json" && cp -r node_modules "$old/" || (cd "$old" && npm ci --include=dev --no-audit --no-fund >/dev/null)
(cd "$old" && npm run --silent assets >/dev/null && packaging/package.sh x64)
cp "$old/.build/package/idrum_${last}_amd64.deb" "$bare/tmp/last.deb"
cp "$out/idrum_${version}_amd64.deb" "$bare/tmp/idrum.deb"
run dpkg -i /tmp/last.deb
# A full shop: two made-up years.
serve idrum demo --years 2 --port 5695 --data /var/lib/idrum
run curl -sf http://127.0.0.1:5695/api/v1/jobs/J-0138/export >"$bare/tmp/before"
# They are worked in the background, after the start: until no more come.
known=0
while sleep 5; jobs=$(run curl -sf http://127.0.0.1:5695/log.csv | wc -l); [ "$jobs" != "$known" ]; do known=$jobs; done
pkill -f "idrum demo --years 2"
sleep 2
run idrum check --data /var/lib/idrum
count() { run idrum backup /tmp/counted --data /var/lib/idrum | grep -oE '[0-9]+ jobs, [0-9]+ acts' && rm -f "$bare/tmp/counted"; }
was=$(count)
# One line of settings is the shop's own, and stays.
echo 'IDRUM_OPTIONS="--port 5691"' >"$bare/etc/idrum/settings"
run dpkg -i --force-confold /tmp/idrum.deb
grep -q 5691 "$bare/etc/idrum/settings"
[ "$(run idrum version | grep -oE '[0-9]+\.[0-9]+\.[0-9]+' | head -1)" = "$version" ]
is=$(count)
echo "$last had $was; $version has $is"
[ "$was" = "$is" ]
began=$(date +%s%N)
serve idrum serve --port 5691 --data /var/lib/idrum
run curl -sf http://127.0.0.1:5691/ >/dev/null
echo "the first page of a shop of two years: $((($(date +%s%N) - began) / 1000000)) ms, $(($(ps -o rss= -p "$(pgrep -f 'idrum serve --port 5691' | tail -1)") / 1024)) MB"
run curl -sf http://127.0.0.1:5691/api/v1/jobs/J-0138/export >"$bare/tmp/after"
node -e 'const [a, b] = process.argv.slice(1).map(f => JSON.parse(require("fs").readFileSync(f)));
  if (JSON.stringify(a.chain) !== JSON.stringify(b.chain) || a.events.length < 10) throw new Error("the job is not as it was");
  console.log(`J-0138: ${b.events.length} acts, the same hashes`)' "$bare/tmp/before" "$bare/tmp/after"
pkill -f "idrum serve --port 5691"
sleep 1
echo "== the installed one, driven: an empty shop's first start to its first closed job"
IDRUM_PROGRAM="chroot $bare /usr/bin/idrum" npx playwright test --config tests/browser/playwright.config.mjs --retries 0 --reporter=line \
  -g "Ostrel OT-50, desktop: complaint to report" | tail -2
echo "== an empty shop"
began=$(date +%s%N)
serve idrum serve --port 5696 --data /srv/empty
run curl -sf http://127.0.0.1:5696/ >/dev/null
echo "its first page: $((($(date +%s%N) - began) / 1000000)) ms, $(($(ps -o rss= -p "$(pgrep -f 'idrum serve --port 5696' | tail -1)") / 1024)) MB"
pkill -f "idrum serve --port 5696"
sleep 1
run dpkg --purge idrum >/dev/null 2>&1
[ -f "$bare/var/lib/idrum/idrum.db" ] && [ ! -e "$bare/usr/bin/idrum" ] && echo "removed; the shop is still in /var/lib/idrum"

arm=$out/idrum-$version-linux-arm64
[ -d "$arm" ] || exit 0
echo "== for the small computer on the shelf"
# ELF64 (class 2), little-endian, machine 183: AArch64.
node -e 'const b = Buffer.alloc(20), f = require("fs"); f.readSync(f.openSync(process.argv[1]), b, 0, 20, 0);
  if (b.toString("latin1", 1, 4) !== "ELF" || b[4] !== 2 || b.readUInt16LE(18) !== 183) throw new Error("not ELF64 for AArch64");
  console.log("ELF64, AArch64")' "$arm/idrum"
command -v qemu-aarch64-static >/dev/null || apt-get install -y --no-install-recommends qemu-user-static >/dev/null 2>&1 || true
if command -v qemu-aarch64-static >/dev/null; then
  # Under an emulator, with the libraries of the system it is for, unpacked and not set up. The emulator does not bear pages that are written
  # under one address and run under another; a real computer does.
  mmdebstrap --quiet --variant=extract --architectures=arm64 --include="$(echo "$depends" | sed -E 's/libssl3 \| libssl3t64/libssl3/; s/, adduser//; s/ //g')" \
    bookworm "$bare.arm64" 2>&1 | grep -v "^I:" || true
  emulated() { DOTNET_EnableWriteXorExecute=0 timeout 300 qemu-aarch64-static -L "$bare.arm64" "$arm/idrum" "$@"; }
  if emulated version && emulated check --data "$bare.arm64/srv/shop"; then
    emulated serve --port 5697 --data "$bare.arm64/srv/shop" >"$bare.arm64/said" 2>&1 &
    for _ in $(seq 240); do curl -sf http://127.0.0.1:5697/ >"$bare.arm64/page" && break; sleep 1; done
    grep -q "No jobs yet" "$bare.arm64/page" && echo "under qemu-user: the first page of an empty shop is served"
    pkill -f "idrum serve --port 5697"
  else
    echo "under qemu-user it CRASHES: on arm64 this build was not run"
  fi
else
  echo "qemu-user is not here: on arm64 this build was not run"
fi
