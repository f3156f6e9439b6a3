"""python -m benchmarks [gather] [terms] [window]: the figures of this version, or of the parts named."""

import sys

from benchmarks import gather, terms, window

PARTS = {"gather": gather.main, "terms": terms.main, "window": window.main}

if __name__ == "__main__":
    for name in sys.argv[1:] or PARTS:
        PARTS[name]()
