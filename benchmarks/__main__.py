"""python -m benchmarks [gather] [window]: the figures of this version, or of the parts named."""

import sys

from benchmarks import gather, window

PARTS = {"gather": gather.main, "window": window.main}

if __name__ == "__main__":
    for name in sys.argv[1:] or PARTS:
        PARTS[name]()
