# SPDX-License-Identifier: GPL-3.0-or-later
"""What is offered before anything is taken in: cuts, separators of a paste, several files; and filters with a not."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from conftest import corpus_of
from jagged_lens.gather import GatherSettings, Means, Source, preview, proposed, rows_to_keep, together
from jagged_lens.gather.offers import cuts_offered


def test_a_text_is_offered_the_cut_that_it_looks_made_for() -> None:
    marks = "\n----\n".join(f"Note {n} tells of slugs." for n in range(4))
    assert cuts_offered(marks) == [("split at ----: 4 documents", {"cut": "at", "cut-at": "----"})]
    paragraphs = "\n\n".join("Slugs came.\nFrost went." for _ in range(4))
    assert [settings["cut"] for _, settings in cuts_offered(paragraphs)] == ["blank-line"]
    lines = "\n".join(f"row {n} of the plot" for n in range(8))
    assert cuts_offered(lines) == [("one document for each of 8 lines", {"cut": "line", "cut-at": ""})]
    assert cuts_offered("One short text.\nOf two lines.") == []
    assert cuts_offered("\n".join(["one"] * 20)) == []  # words, not documents


def test_what_is_offered_and_what_is_missing_stands_in_the_preview(tmp_path: Path) -> None:
    (tmp_path / "a.txt").write_text("\n***\n".join(["Slugs came."] * 5))
    means = Means(tmp_path, 1)
    assert [settings["cut-at"] for _, settings in preview(Source(file="a.txt"), means).offers] == ["***"]
    cut = preview(Source(file="a.txt", cut="at", cut_at="***"), means)
    assert (len(cut.rows), cut.offers, cut.notices) == (5, (), ())
    missing = preview(Source(file="a.txt", cut="at", cut_at="+++"), means)
    assert missing.notices == ("The separator “+++” does not occur in the preview: texts stay whole.",)


def test_a_paste_with_commas_under_names_is_a_table_and_prose_is_none(tmp_path: Path) -> None:
    means = Means(tmp_path, 1)
    table = preview(Source(pasted='id,note\n1,"slugs, and late frost"\n2,rust'), means)
    assert table.is_table
    assert table.columns == ("id", "note")
    assert table.rows[0] == ("1", "slugs, and late frost")
    assert preview(Source(pasted="id;note\n1;slugs\n2;rust"), means).columns == ("id", "note")
    prose = "Slugs came, and late frost, which took all of the beans.\nThen rust, too.\nNothing was left."
    assert not preview(Source(pasted=prose), means).is_table
    assert not preview(Source(pasted="Dear all,\nslugs came.\nYours,\nplot 7"), means).is_table


def test_several_files_are_sources_texts_of_a_whole_folder_one_together(tmp_path: Path) -> None:
    for name in ("a.txt", "b.txt", "c.md"):
        (tmp_path / name).write_text("Slugs came.")
    (tmp_path / "t.csv").write_text("id,note\n1,late frost took all the beans\n2,slugs took the peas again\n")
    (tmp_path / "bad.docx").write_bytes(b"no")
    paths = [tmp_path / name for name in ("a.txt", "b.txt", "c.md", "t.csv", "bad.docx")]
    sources = together(paths, tmp_path)
    assert [source.file for source in sources] == ["*.txt", "c.md", "t.csv", "bad.docx"]
    assert [source.file for source in together(paths[:1], tmp_path)] == ["a.txt"]
    found = proposed(sources, Means(tmp_path, 1))
    assert [bool(one.problem) for one in found] == [False, False, False, True]
    assert found[2].source.text == ("note",)
    assert "damaged" in found[3].problem
    (tmp_path / "d.txt").write_text("Not dropped.")
    assert [source.file for source in together(paths[:2], tmp_path)] == ["a.txt", "b.txt"]


def test_documents_with_a_label_are_left_out(tmp_path: Path) -> None:
    corpus = corpus_of(
        *["x"] * 6, labels={"crop": ["bean", "bean", "pea", "pea", "leek", ""], "soil": ["clay", "sand"] * 3}
    )
    words = np.ones(6, np.int64)

    def rows(**settings: tuple[str, ...]) -> list[int]:
        return rows_to_keep(corpus, words, GatherSettings(**settings)).tolist()  # type: ignore[arg-type]

    assert rows(without=("crop = bean",)) == [2, 3, 4, 5]
    assert rows(without=("crop = bean", "crop = pea")) == [4, 5]
    assert rows(without=("crop = bean", "soil = clay")) == [3, 5]  # either is enough to be left out
    assert rows(only=("crop = pea", "crop = leek"), without=("soil = sand",)) == [2, 4]
    assert rows(only=("crop = ",)) == [5]
