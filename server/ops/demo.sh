# The demo's two drives. Where something can be mounted each is a file system of its own, in a file; elsewhere their
# folders stand for drives (core/src/Drive/SimulatedDrives.php), so that the demo can show what two drives are good for.
# Sourced by ../../velvet.
# shellcheck shell=bash

DEMO_DRIVES=(Studio Twin)
DEMO_DRIVE_SIZE=16G # on paper; the file takes what is written into it

# Draws the cards of Tarn Hollow into a folder: demo_draw FOLDER SCALE.
demo_draw() {
    say "Demo: drawing the cards of Tarn Hollow (a minute or two)"
    php -d memory_limit=1G -d opcache.enable_cli=1 -d opcache.jit=function -d opcache.jit_buffer_size=64M \
        "$ROOT/demo/build.php" "$1" "$2" >&2
}

demo_drives_connect() {
    local name folder image
    [[ -d $VELVET_HOME/demo/drives ]] || return 0
    for name in "${DEMO_DRIVES[@]}"; do
        folder=$VELVET_HOME/demo/drives/$name
        image=$VELVET_HOME/demo/$name.img
        if mountpoint -q "$folder"; then continue; fi
        if [[ -f $image ]]; then
            mount -o loop "$image" "$folder" 2>/dev/null || say "Demo: the drive $name could not be connected"
        elif [[ -z $(ls -A "$folder" 2>/dev/null) ]]; then
            demo_drive_make "$image" "$folder" || rm -f "$image"
        fi
    done
}

demo_drive_make() {
    mkdir -p "$2" &&
        truncate -s "$DEMO_DRIVE_SIZE" "$1" 2>/dev/null &&
        PATH=$PATH:/usr/sbin:/sbin mkfs.ext4 -q -m 0 -E lazy_itable_init=1,lazy_journal_init=1 "$1" 2>/dev/null &&
        mount -o loop "$1" "$2" 2>/dev/null &&
        rmdir "$2/lost+found"
}

demo_drives_disconnect() {
    local name folder
    for name in "${DEMO_DRIVES[@]}"; do
        folder=$VELVET_HOME/demo/drives/$name
        if mountpoint -q "$folder" 2>/dev/null; then umount "$folder" 2>/dev/null || umount -l "$folder"; fi
    done
}
