# What ./start, ./test and scripts/measure share. Sourced, not run.

set -Eeuo pipefail
shopt -s inherit_errexit

root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
state="$root/.dense-brick"
mkdir -p "$state"

source "$root/scripts/steps.sh"
source "$root/scripts/tools.sh"
source "$root/scripts/build.sh"
source "$root/scripts/database.sh"
source "$root/scripts/service.sh"
