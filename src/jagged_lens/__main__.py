"""python -m jagged_lens."""

from jagged_lens.cli import main

if __name__ == "__main__":  # the worker process imports this file too
    main()
