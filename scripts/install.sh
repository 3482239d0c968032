#!/usr/bin/env bash
# Installs the program for one user, without root and without the network: `make install [PREFIX=~/.local]`.
# `make uninstall` takes it away again; shops and settings stay.
set -eu
cd "$(dirname "$0")/.."
prefix=${PREFIX:-$HOME/.local}
prefix=${prefix/#\~\//$HOME/}
case $prefix in /*) ;; *) prefix=$PWD/$prefix ;; esac  # the menu starts programs from anywhere
id=org.brachium.Brachium
share=$prefix/share
own=$prefix/lib/brachium
version=$(sed -n 's/^version = "\(.*\)"/\1/p' pyproject.toml)

refresh() {
    command -v update-desktop-database >/dev/null && update-desktop-database -q "$share/applications" || true
    command -v update-mime-database >/dev/null && update-mime-database "$share/mime" >/dev/null 2>&1 || true
    command -v gtk-update-icon-cache >/dev/null && gtk-update-icon-cache -qtf "$share/icons/hicolor" 2>/dev/null || true
}

uninstall() {
    rm -rf "$own"
    rm -f "$prefix/bin/brachium" "$prefix/bin/brachium-probe" "$share/applications/$id.desktop" \
        "$share/metainfo/$id.metainfo.xml" "$share/mime/packages/$id.xml" "$share/man/man1/brachium.1" \
        "$share/bash-completion/completions/brachium" "$share/zsh/site-functions/_brachium" \
        "$share/fish/vendor_completions.d/brachium.fish" "$share"/icons/hicolor/*/apps/"$id".*
    refresh
}

if [ "${1:-}" = uninstall ]; then
    uninstall
    echo "Brachium is gone from $prefix; shops and settings are where they were."
    exit 0
fi

uninstall
mkdir -p "$own" "$prefix/bin" "$share"/{applications,metainfo,mime/packages,man/man1} \
    "$share"/{bash-completion/completions,zsh/site-functions,fish/vendor_completions.d}
python3=$(readlink -f .venv/bin/python)
site=$(.venv/bin/python -c 'import sysconfig; print(sysconfig.get_path("purelib"))')
"$python3" -m venv --without-pip "$own/venv"
target=$("$own/venv/bin/python" -c 'import sysconfig; print(sysconfig.get_path("purelib"))')
cp -al "$site/." "$target/" 2>/dev/null || cp -a "$site/." "$target/"  # links where the disk is the same, else copies
rm -rf "$target"/__editable__*brachium* "$target"/brachium-*.dist-info
cp -a src/brachium src/brachium_probe "$target/"
find "$target/brachium" "$target/brachium_probe" -name __pycache__ -prune -exec rm -rf {} +
printf '#!/bin/sh\nexec "%s" -m brachium "$@"\n' "$own/venv/bin/python" > "$prefix/bin/brachium"
chmod +x "$prefix/bin/brachium"
PYTHONPATH=src "$python3" -m brachium_probe.pack "$prefix/bin" >/dev/null

cp "packaging/linux/$id.xml" "$share/mime/packages/"
sed "s|^Exec=brachium |Exec=$prefix/bin/brachium |" "packaging/linux/$id.desktop" > "$share/applications/$id.desktop"
sed "s|@VERSION@|$version|; s|@DATE@|$(date -u +%F)|" "packaging/linux/$id.metainfo.xml" > "$share/metainfo/$id.metainfo.xml"
cp packaging/linux/brachium.1 "$share/man/man1/"
for png in packaging/linux/icons/*.png; do
    size=$(basename "$png" .png)
    mkdir -p "$share/icons/hicolor/${size}x$size/apps"
    cp "$png" "$share/icons/hicolor/${size}x$size/apps/$id.png"
done
mkdir -p "$share/icons/hicolor/scalable/apps"
cp "src/brachium/resources/icons/$id.svg" "$share/icons/hicolor/scalable/apps/"
for shell in bash zsh fish; do
    case $shell in
        bash) out=$share/bash-completion/completions/brachium ;;
        zsh) out=$share/zsh/site-functions/_brachium ;;
        fish) out=$share/fish/vendor_completions.d/brachium.fish ;;
    esac
    "$own/venv/bin/python" -c "from typer._completion_shared import get_completion_script as script
print(script(prog_name='brachium', complete_var='_BRACHIUM_COMPLETE', shell='$shell'))" > "$out" || rm -f "$out"
done
refresh
echo "Brachium $version is in $prefix: start it from the menu or by $prefix/bin/brachium."
case ":$PATH:" in *":$prefix/bin:"*) ;; *) echo "($prefix/bin is not on your PATH yet.)" ;; esac
