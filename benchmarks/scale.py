# SPDX-License-Identifier: GPL-3.0-or-later
"""Text to map of 20,000, 63,000 and 200,000 short texts: seconds and memory of each part, recall and trust. With --million a million too."""

from __future__ import annotations

import json
import resource
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

from benchmarks.synthetic import write_nested
from jagged_lens.lens import ALWAYS, Job, Recent, compute, read_recipe
from jagged_lens.progress import unheard

_SIZES = (20_000, 63_000, 200_000)
_MILLION = 1_000_000
_RECIPE = '[gather]\nfrom = "n.csv"\ntext = ["note"]\n[compare]\nexact = false\n[group]\ngroups = 40\n'
_BRIEF = 0.05  # seconds below which a part is not told
_EVERY = 0.02


class _Told:
    """A listener that notes for each part its seconds and the most that the process held meanwhile."""

    def __init__(self) -> None:
        self.parts: dict[str, tuple[float, float]] = {}
        self._most = 0.0
        threading.Thread(target=self._watch, daemon=True).start()

    def _watch(self) -> None:
        page = resource.getpagesize() / 1e6
        while True:
            self._most = max(self._most, int(Path("/proc/self/statm").read_text().split()[1]) * page)
            time.sleep(_EVERY)

    def began(self, part: Any) -> object:
        self._most = 0.0
        return unheard

    def grew(self, part: Any, preview: object) -> None:
        """Nobody looks."""

    def done(self, part: Any, key: str, result: object, seconds: float) -> None:
        self.parts[part.name] = (seconds, self._most)

    def failed(self, part: Any, error: Exception, details: str = "") -> None:
        raise error

    def deferred(self, part: Any) -> None:
        """Nothing is."""


def whole(recipe: str) -> None:
    """Print what a lens took, as JSON."""
    told, begin, path = _Told(), time.perf_counter(), Path(recipe)
    results = compute(Job(read_recipe(path), path.parent), Recent(), told, lambda order=ALWAYS: order)  # type: ignore[arg-type]
    print(
        json.dumps(
            {
                "seconds": time.perf_counter() - begin,
                "megabytes": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024 / 1e6,
                "parts": told.parts,
                "recall": results["neighbours"].recall,  # type: ignore[index]
                "trust": results["layout"].overall,  # type: ignore[index]
                "cohesion": results["grouping"].quality,  # type: ignore[index]
                "entries": results["space"].weights.nnz,  # type: ignore[index]
            }
        )
    )


def main() -> None:
    for size in (*_SIZES, *((_MILLION,) if "--million" in sys.argv else ())):
        with tempfile.TemporaryDirectory() as place:
            write_nested(Path(place) / "n.csv", size)
            recipe = Path(place) / "n.toml"
            recipe.write_text(_RECIPE)
            code = "import sys\nfrom benchmarks.scale import whole\nif __name__ == '__main__':\n    whole(sys.argv[1])"
            done = subprocess.run([sys.executable, "-c", code, str(recipe)], capture_output=True, text=True, check=True)
        found = json.loads(done.stdout)
        print(
            f"{size:,} texts, {found['entries']:,} weights: {found['seconds']:.0f} s, at most {found['megabytes']:,.0f} MB; recall "
            f"{found['recall']:.3f}, trust {found['trust']:.3f}, cohesion {found['cohesion']:.4f}"
        )
        for name, (seconds, most) in found["parts"].items():
            if seconds >= _BRIEF:
                print(f"    {name:12} {seconds:7.1f} s   {most:7,.0f} MB")


if __name__ == "__main__":
    main()
