# SPDX-License-Identifier: GPL-3.0-or-later
"""Whole runs of the command line, from a temporary home."""

import csv
import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pytest
from scipy.cluster.hierarchy import fcluster, linkage
from scipy.io import mmread

from jagged_lens.demo import demo_recipe
from jagged_lens.export.cells import numbers

FILES = [
    "centroids.csv",
    "confusion.csv",
    "counts.mtx",
    "cross.csv",
    "documents.csv",
    "families.csv",
    "groups.csv",
    "links.graphml",
    "memberships.csv",
    "neighbours.csv",
    "pairs.csv",
    "report.html",
    "run.json",
    "scores.csv",
    "separation.csv",
    "suggestions.csv",
    "terms.csv",
    "weights.mtx",
]

SUGGESTED = {"confusion.csv", "scores.csv", "suggestions.csv"}


def run(*words: str, home: Path, **more: str) -> subprocess.CompletedProcess[str]:
    environment = {**os.environ, "HOME": str(home), **more}
    return subprocess.run(
        [sys.executable, "-m", "jagged_lens", *words], capture_output=True, text=True, env=environment, timeout=300
    )


def rows(path: Path) -> list[dict[str, str]]:
    with path.open(encoding="utf-8", newline="") as file:
        return list(csv.DictReader(file))


@pytest.fixture(scope="module")
def out(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("run")
    done = run("run", str(demo_recipe()), "--out", str(folder / "out"), home=folder)
    assert done.returncode == 0, done.stderr
    said = done.stderr.splitlines()
    assert [line.split()[0] for line in said[:7]] == ["Gather", "Clean", "Terms", "Compare", "Group", "Map", "Files"]
    assert said[0] == "Gather   640 documents, 640 in the lens"
    assert said[1].endswith("words kept; English")
    assert said[7:] == [
        "jagged-lens: note: 8 documents are not in English: Polish, Portuguese, Swedish, Dutch."
    ] or said[7].startswith("jagged-lens: note: 8 documents are not in English: ")
    return folder / "out"


def test_all_files_are_there_and_no_other(out: Path) -> None:
    assert sorted(path.name for path in out.iterdir()) == FILES


def test_files_say_what_the_chain_computed(out: Path, demo_results: dict[str, Any]) -> None:
    space, neighbours, pairs = demo_results["space"], demo_results["neighbours"], demo_results["pairs"]
    assert np.array_equal(mmread(out / "counts.mtx").toarray(), space.terms.counts.toarray())
    assert np.array_equal(mmread(out / "weights.mtx").astype(np.float32).toarray(), space.weights.toarray())
    terms = rows(out / "terms.csv")
    assert [row["term"] for row in terms if row["kept"] == "yes"] == list(space.terms.terms)
    assert [row["global"] for row in terms if row["kept"] == "yes"] == [
        repr(float(value)) for value in space.global_weights
    ]
    assert all((row["why_not"] == "") == (row["kept"] == "yes") for row in terms)
    documents = rows(out / "documents.csv")
    keys = [row["key"] for row in documents]
    assert [int(row["group"]) for row in documents] == demo_results["grouping"].group.tolist()
    x = np.array([np.float32(row["x"] or "nan") for row in documents])
    assert np.array_equal(x, demo_results["layout"].positions[:, 0], equal_nan=True)
    assert [row["nearest"] for row in documents] == [keys[at] if at >= 0 else "" for at in neighbours.row[:, 0]]
    listed = rows(out / "pairs.csv")
    assert [np.float32(row["similarity"]) for row in listed] == pairs.similarity.tolist()
    assert [(row["first"], row["second"]) for row in listed] == [
        (keys[a], keys[b]) for a, b in zip(pairs.first, pairs.second, strict=True)
    ]
    assert len(rows(out / "neighbours.csv")) == (neighbours.nearest(12).row >= 0).sum()
    told = json.loads((out / "run.json").read_text())
    assert told["counts"]["compare"]["pairs"] == len(pairs)
    assert told["counts"]["terms"]["kept"] == len(space.terms.terms)
    assert set(told["seconds"]) == set(told["recipe"]) - {"report", "run"}
    trust = [float(row["trust"]) for row in documents if row["trust"]]
    assert told["counts"]["map"]["trust"] == pytest.approx(np.mean(trust), abs=1e-6)
    assert told["counts"]["map"]["trust"] >= 0.33 > 3 * 0.1


def test_tables_join_by_the_same_names(out: Path) -> None:
    terms = {row["term"]: row for row in rows(out / "terms.csv")}
    kept = {term for term, row in terms.items() if row["kept"] == "yes"}
    assert terms["pea"]["shown"] == "peas"
    assert {row["term"] for row in rows(out / "centroids.csv")} <= kept
    documents = rows(out / "documents.csv")
    keys = {row["key"] for row in documents}
    for name, column in (
        ("memberships.csv", "key"),
        ("pairs.csv", "first"),
        ("neighbours.csv", "neighbour"),
        ("families.csv", "key"),
    ):
        assert {row[column] for row in rows(out / name)} <= keys
    languages = [row["language"] for row in documents]
    assert languages.count("en") > 500
    assert sum(language not in ("", "en") for language in languages) == 8


def test_planted_copies_are_all_found_with_their_kind_and_no_others(out: Path) -> None:
    listed = rows(out / "pairs.csv")
    found = {(row["first"], row["second"]): row["kind"] for row in listed}
    planted = {(row["first"], row["second"]): row["kind"] for row in rows(demo_recipe().parent / "planted.csv")}
    copies = {pair: kind for pair, kind in planted.items() if kind != "subject"}
    assert len(copies) == 48
    assert {pair: kind for pair, kind in found.items() if kind != "subject"} == copies
    assert any(row["kind"] == "holds" and float(row["similarity"]) < 0.55 for row in listed)
    told_twice = [pair for pair, kind in planted.items() if kind == "subject"]
    assert len(told_twice) == 20
    assert sum(pair in found for pair in told_twice) >= 12
    nearest = {row["key"]: row["nearest"] for row in rows(out / "documents.csv")}
    assert all(nearest[first] == second and nearest[second] == first for first, second in told_twice)


def test_families_and_links_go_out_of_the_pairs(out: Path) -> None:
    listed, members = rows(out / "pairs.csv"), rows(out / "families.csv")
    family = {row["key"]: row["family"] for row in members}
    for row in listed:
        if row["kind"] != "subject":
            assert family[row["first"]] == family[row["second"]] == row["family"]
    standards = [row for row in members if row["standard"] == "yes"]
    assert sorted(row["family"] for row in standards) == sorted(set(family.values()))
    assert all(row["resemblance"] == "1.0" for row in standards)
    graph = ElementTree.parse(out / "links.graphml").getroot()
    space = {"g": "http://graphml.graphdrawing.org/xmlns"}
    edges = graph.findall(".//g:edge", space)
    assert [(edge.get("source"), edge.get("target")) for edge in edges] == [
        (row["first"], row["second"]) for row in listed
    ]
    assert [edge.findtext("g:data[@key='similarity']", "", space) for edge in edges] == [
        row["similarity"] for row in listed
    ]
    assert {node.get("id") for node in graph.findall(".//g:node", space)} == {
        row[side] for row in listed for side in ("first", "second")
    }


@pytest.mark.parametrize("threads", ["1", "2"])
def test_the_same_files_again_on_any_number_of_threads(out: Path, tmp_path: Path, threads: str) -> None:
    done = run(
        "run",
        str(demo_recipe()),
        "--out",
        str(tmp_path / "b"),
        "--threads",
        threads,
        home=tmp_path,
        OPENBLAS_NUM_THREADS=threads,
    )
    assert done.returncode == 0
    for name in FILES:
        first, second = (out / name).read_bytes(), (tmp_path / "b" / name).read_bytes()
        if name == "run.json":
            first_told, second_told = json.loads(first), json.loads(second)
            for told in (first_told, second_told):
                del told["seconds"], told["peak_memory_mb"]
            assert first_told == second_told
        else:
            assert first == second, name


def test_a_run_needs_no_qt(tmp_path: Path) -> None:
    (tmp_path / "PyQt6").mkdir()
    (tmp_path / "PyQt6" / "__init__.py").write_text("raise ImportError('no Qt here')")
    done = run(
        "run",
        str(demo_recipe()),
        "--out",
        str(tmp_path / "out"),
        home=tmp_path,
        PYTHONPATH=f"{tmp_path}:{os.environ.get('PYTHONPATH', '')}",
    )
    assert done.returncode == 0, done.stderr


@pytest.mark.parametrize(
    ("recipe", "words"),
    [
        ("[group]\nby = 'heap'\n", '"heap" is not allowed'),
        ("[gather]\nfrom = 'gone.csv'\n", "gone.csv: there is no such file"),
        ("[gather]\nfrom = 'bad.csv'\nkey = 'id'\n", 'the key "A" is used by documents 1 and 2'),
        (None, "cannot be read"),
    ],
)
def test_a_wrong_recipe_or_input_gives_one_clear_line_and_no_file(
    tmp_path: Path, recipe: str | None, words: str
) -> None:
    (tmp_path / "bad.csv").write_text("id,note\nA,x\nA,y\n")
    if recipe is not None:
        (tmp_path / "r.toml").write_text(recipe)
    done = run("run", str(tmp_path / "r.toml"), "--out", str(tmp_path / "out"), home=tmp_path)
    assert done.returncode == 2
    assert words in done.stderr
    assert len(done.stderr.strip().splitlines()) == 1
    assert not (tmp_path / "out").exists() or not list((tmp_path / "out").iterdir())


def test_a_stopped_run_says_so_and_leaves_nothing(tmp_path: Path) -> None:
    text = "\n".join(" ".join(f"w{(row * 31 + step * step) % 4000}" for step in range(120)) for row in range(12_000))
    (tmp_path / "long.csv").write_text("note\n" + text)
    (tmp_path / "r.toml").write_text("[gather]\nfrom = 'long.csv'\n")
    words = [sys.executable, "-m", "jagged_lens", "run", str(tmp_path / "r.toml"), "--out", str(tmp_path / "out")]
    process = subprocess.Popen(words, stderr=subprocess.PIPE, text=True)
    while not (tmp_path / "out").exists():  # made when the work begins
        time.sleep(0.05)
    time.sleep(0.5)
    process.send_signal(signal.SIGINT)
    _, said = process.communicate(timeout=300)
    assert process.returncode == 130
    assert "stopped" in said
    assert not (tmp_path / "out").exists() or not list((tmp_path / "out").iterdir())


def test_texts_that_look_like_formulas_are_guarded_and_numbers_are_not(tmp_path: Path) -> None:
    (tmp_path / "a.csv").write_text('id,title,note,crop\n=1,+t,"slugs, frost",@x\nB,-u,slugs frost,y\nC,,,z\n')
    (tmp_path / "r.toml").write_text(
        "[gather]\nfrom='a.csv'\nkey='id'\ntext=['note']\nlabels=['crop']\n[terms]\nleast-documents=1\nmost-share=1.0\n[weigh]\nglobal='lifted'\n"
    )
    assert run("run", str(tmp_path / "r.toml"), "--out", str(tmp_path / "o"), home=tmp_path).returncode == 0
    documents = rows(tmp_path / "o" / "documents.csv")
    assert [(row["key"], row["title"], row["label.crop"]) for row in documents[:2]] == [
        ("'=1", "'+t", "'@x"),
        ("B", "'-u", "y"),
    ]
    assert (documents[2]["group"], documents[2]["x"], documents[2]["trust"], documents[2]["nearest"]) == (
        "-1",
        "",
        "",
        "",
    )
    assert (tmp_path / "o" / "documents.csv").read_bytes().count(b"\r\n") == 4


def test_numbers_read_back_the_same() -> None:
    values = np.random.default_rng(0).normal(size=1000).astype(np.float32)
    assert np.array_equal(np.array([np.float32(text) for text in numbers(values)]), values)


def test_info_names_every_setting(tmp_path: Path) -> None:
    said = run("info", home=tmp_path)
    assert said.returncode == 0
    for words in ("[clean]", "stop-words", "pairs-from = 0.8", "Allowed:"):
        assert words in said.stdout
    given = run("info", str(demo_recipe()), home=tmp_path)
    assert "pairs-from = 0.4" in given.stdout
    assert "# List pairs from 0.4 up, and all copies below." in given.stdout


def test_separation_is_what_documents_and_neighbours_say(out: Path) -> None:
    documents = rows(out / "documents.csv")
    crop = {row["key"]: row["label.crop"] for row in documents}
    placed = {row["key"] for row in documents if row["x"]}
    same: dict[str, list[bool]] = {}
    for row in rows(out / "neighbours.csv"):
        same.setdefault(row["key"], []).append(crop[row["key"]] == crop[row["neighbour"]])
    shares = {key: np.mean(hits) for key, hits in same.items()}
    told = {row["value"]: row for row in rows(out / "separation.csv") if row["label"] == "crop"}
    assert float(told[""]["space"]) == pytest.approx(np.mean(list(shares.values())))
    assert float(told["bean"]["space"]) == pytest.approx(
        np.mean([share for key, share in shares.items() if crop[key] == "bean"])
    )
    counts = np.array([int(row["documents"]) for value, row in told.items() if value])
    assert int(told[""]["documents"]) == counts.sum() == len(placed)
    assert float(told[""]["chance"]) == pytest.approx(((counts / counts.sum()) ** 2).sum())
    places = np.array([(float(row["x"]), float(row["y"])) for row in documents if row["x"]])
    crops = np.array([row["label.crop"] for row in documents if row["x"]])
    gaps = ((places[:, None] - places[None]) ** 2).sum(2)
    np.fill_diagonal(gaps, np.inf)
    near = crops[np.argsort(gaps, axis=1, kind="stable")[:, :12]]
    assert float(told[""]["map"]) == pytest.approx((near == crops[:, None]).mean(), abs=2e-3)
    assert float(told[""]["map"]) >= 0.8 * float(told[""]["space"])


def test_a_run_on_themes_leaves_them_and_works_on_them(tmp_path: Path) -> None:
    recipe = tmp_path / "themes.toml"
    notes = demo_recipe().parent / "notes.csv"
    recipe.write_text(
        f"""[gather]\nfrom = "{notes}"\nkey = "id"\ntext = ["note"]\nlabels = ["crop"]\n[weigh]\nthemes = 20\n[map]\nby = "pca"\n"""
    )
    done = run("run", str(recipe), "--out", str(tmp_path / "out"), home=tmp_path)
    assert done.returncode == 0, done.stderr
    out = tmp_path / "out"
    extra = {"themes.csv", "document_themes.csv", "term_themes.csv"}
    assert {path.name for path in out.iterdir()} == {*FILES, *extra} - {"cross.csv", *SUGGESTED}
    x = mmread(out / "weights.mtx").toarray()
    sizes = np.linalg.svd(x, compute_uv=False)[:20]
    told = rows(out / "themes.csv")
    assert [float(row["share"]) for row in told] == pytest.approx(sizes**2 / (x**2).sum(), rel=2e-3)
    assert float(told[-1]["cumulative"]) == pytest.approx((sizes**2).sum() / (x**2).sum(), rel=1e-3)
    listed, terms = rows(out / "document_themes.csv"), rows(out / "term_themes.csv")
    v = np.array([[float(row[str(theme)]) for theme in range(1, 21)] for row in terms])
    xv = np.array([[float(row[str(theme)]) for theme in range(1, 21)] for row in listed])
    assert xv == pytest.approx(x @ v, abs=1e-5)
    high = told[0]["high"].split("; ")
    shown = {row["term"]: row["shown"] for row in rows(out / "terms.csv")}
    assert high == [shown[terms[at]["term"]] for at in np.argsort(-v[:, 0], kind="stable")[:10]]
    unit = xv / np.where(np.linalg.norm(xv, axis=1) > 0, np.linalg.norm(xv, axis=1), 1)[:, None]
    keys = {row["key"]: at for at, row in enumerate(listed)}
    for row in rows(out / "pairs.csv")[:200]:
        dot = unit[keys[row["first"]]] @ unit[keys[row["second"]]]
        assert float(row["similarity"]) == pytest.approx(dot, abs=1e-5)
    cosine = np.triu(unit @ unit.T, 1)
    above = sum(float(row["similarity"]) >= 0.8 for row in rows(out / "pairs.csv"))
    assert abs(above - (cosine >= 0.8).sum()) <= (np.abs(cosine - 0.8) < 1e-5).sum()


def test_a_run_with_a_tree_leaves_it_with_sweep_and_cross_table_all_of_which_agree(tmp_path: Path) -> None:
    recipe = demo_recipe().with_name("larkmoor.3-few.toml").read_text("utf-8").replace("[2, 20]", "[3, 6]")
    recipe = recipe.replace("[group]", '[group]\nby = "tree"\nlinkage = "ward"')
    (tmp_path / "few.toml").write_text(
        recipe.replace('"notes.csv"', f'"{demo_recipe().parent / "notes.csv"}"') + '\n[map]\nby = "pca"\n', "utf-8"
    )
    done = run("run", str(tmp_path / "few.toml"), "--out", str(tmp_path / "out"), home=tmp_path)
    assert done.returncode == 0, done.stderr
    out = tmp_path / "out"
    documents, groups = rows(out / "documents.csv"), rows(out / "groups.csv")
    members, sweep, cross = rows(out / "memberships.csv"), rows(out / "sweep.csv"), rows(out / "cross.csv")
    # The tree is SciPy's, of the rows of weights.mtx that are not empty, and the cut of it the groups.
    x = mmread(out / "weights.mtx").toarray()
    filled = np.abs(x).sum(axis=1) > 0
    unit = x[filled] / np.linalg.norm(x[filled], axis=1, keepdims=True)
    tree = np.array([[float(one) for one in row.values()] for row in rows(out / "tree.csv")])
    expected = linkage(unit, "ward")
    assert tree[:, 2] == pytest.approx(expected[:, 2], abs=1e-6)
    own = np.array([int(row["group"]) for row in documents])[filled]
    assert len(groups) == 4
    assert len(set(zip(own.tolist(), fcluster(tree, 4, "maxclust").tolist(), strict=True))) == 4
    # Newick: as many leaves, each as deep as its joins are high.
    newick = (out / "tree.nwk").read_text("utf-8")
    assert newick.count("(") == newick.count(")") == len(tree)
    assert all(f"'{row['key']}':" in newick for row, there in zip(documents, filled, strict=True) if there)
    # Silhouettes by all pairs; next groups by the centroids; figures of the sweep and of the cross table.
    apart = 1 - unit @ unit.T
    for place in range(0, len(own), 37):
        same = np.flatnonzero((own == own[place]) & (np.arange(len(own)) != place))
        a, b = apart[place, same].mean(), min(apart[place, own == g].mean() for g in range(4) if g != own[place])
        row = members[int(np.flatnonzero(filled)[place])]
        assert float(row["silhouette"]) == pytest.approx((b - a) / max(a, b), abs=1e-5)
    assert [row["groups"] for row in sweep] == ["3", "4", "5", "6"]
    assert float(sweep[1]["tightness"]) == pytest.approx(
        np.mean([float(row["closeness"]) for row in members if row["group"] != "-1"]), abs=1e-6
    )
    # A sweep tries parts with the same settings as the measure of holding does.
    assert float(sweep[1]["holding"]) == pytest.approx(np.mean([float(row["holding"]) for row in groups]), abs=1e-6)
    table = np.array([[int(one) for one in row.values()] for row in cross])[:, 1:]
    counts = json.loads((out / "run.json").read_text("utf-8"))["counts"]["group"]
    assert counts["purity"] == pytest.approx(table.max(axis=1).sum() / table.sum())
    assert table.sum() == sum(1 for row, there in zip(documents, filled, strict=True) if row["label.crop"] and there)
    centroids = rows(out / "centroids.csv")
    assert sum(float(row["weight"]) ** 2 for row in centroids if row["group"] == "2") == pytest.approx(1, abs=1e-5)
