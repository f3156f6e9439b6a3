# SPDX-License-Identifier: GPL-3.0-or-later
"""python -m benchmarks [PART …]: the figures of this version, or of the parts named, such as terms and languages."""

import sys

from benchmarks import contrasts, copies, gather, groups, languages, maps, nearness, scale, terms, vectors, window

PARTS = {
    "gather": gather.main,
    "languages": languages.languages,
    "terms": terms.main,
    "nearness": nearness.main,
    "copies": copies.main,
    "group": groups.main,
    "map": maps.main,
    "contrast": contrasts.main,
    "vectors": vectors.main,
    "window": window.main,
    "scale": scale.main,
}

if __name__ == "__main__":
    for name in [one for one in sys.argv[1:] if not one.startswith("--")] or PARTS:
        PARTS[name]()
