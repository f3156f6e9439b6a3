"""python -m jagged_lens."""

from jagged_lens.cli import main

main()
