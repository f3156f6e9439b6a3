"""python -m benchmarks: all figures of this version."""

from benchmarks import window

if __name__ == "__main__":
    window.main()
