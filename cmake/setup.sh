# Shared by start-demo and run-tests: installs what is missing from packages.txt.
set -eu

need_packages() {
    missing=""
    for package in $(grep -v '^#' packages.txt); do
        dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing="$missing $package"
    done
    [ -z "$missing" ] && return 0
    echo "Missing packages:$missing"
    if [ "$(id -u)" = 0 ]; then
        as_root=""
    elif command -v sudo >/dev/null 2>&1; then
        echo "Installing them needs your password, once."
        as_root="sudo"
    else
        echo "Please let someone with the rights run:  apt-get install$missing"
        exit 1
    fi
    $as_root apt-get update -q
    DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -q --no-install-recommends $missing
}

# A folder that is made anew compiles several files at once, which takes half the time; one that is worked in goes on
# as it was set up.
configure() {
    preset=$1
    shift
    [ -f "build/$preset/CMakeCache.txt" ] || set -- -DCMAKE_UNITY_BUILD=ON "$@"
    cmake --preset "$preset" "$@" >/dev/null
}
