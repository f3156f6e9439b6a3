# SPDX-License-Identifier: GPL-3.0-or-later
"""How a person expects words, sentences and forms to be read, in ten languages; the table stands in docs/formulas.md, too."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, Tokens, clean
from jagged_lens.language import core_of, language_of, sentence_spans

HERE = Path("/")

# language, text, tokens as they are told apart (apostrophes and points belong to some), words that are kept by default settings
EXAMPLES = [
    ("en", "It isn't 3.5 kg, e.g. in the U.S.", "It isn't 3.5 kg e.g. in the U.S.", "not kg u.s."),
    ("en", "Dr. Moor’s e-mail cost £1,000.", "Dr Moor's e mail cost 1,000", "dr moor mail cost"),
    (
        "de",
        "Die Gärten waren nicht größer als 1.000 m².",
        "Die Gärten waren nicht größer als 1.000 m²",
        "gart nicht gross m²",
    ),
    ("de", "Z.B. am 3. Mai kam Dr. Moor.", "Z.B. am 3 Mai kam Dr Moor", "mai kam dr moor"),
    ("fr", "L’eau n’est qu’un début, c’est l’hiver.", "L'eau n'est qu'un début c'est l'hiver", "eau début hiv"),
    ("es", "¿No llovió? El 3,5 % de las judías.", "No llovió El 3,5 de las judías", "no llov jud"),
    ("it", "Dell’acqua c’è, ma non nell’orto.", "Dell'acqua c'è ma non nell'orto", "acqua non orto"),
    ("pt", "Não há água; as couves estão secas.", "Não há água as couves estão secas", "não águ couv sec"),
    (
        "nl",
        "Zo'n tuin heb ik niet, d.w.z. geen bonen.",
        "Zo'n tuin heb ik niet d.w.z. geen bonen",
        "tuin niet geen boon",
    ),
    ("ru", "В саду не было чая, т.е. ничего.", "В саду не было чая т.е. ничего", "сад не ча ничего"),
    ("ar", "هل نما الفول؟ لا، أكله الطير.", "هل نما الفول لا أكله الطير", "نما فول لا اكل طير"),
    (
        "tr",
        "Larkmoor'un bahçesi çok güzel değil mi?",
        "Larkmoor'un bahçesi çok güzel değil mi",
        "larkmoor bahçes güzel değil",
    ),
]


def read(text: str, **settings: object) -> Tokens:
    return clean(corpus_of(text), CleanSettings(**{"take_out": (), **settings}), HERE)  # type: ignore[arg-type]


def tokens(found: Tokens) -> list[str]:
    return [found.written[int(number)] for number in found.form]


def kept(found: Tokens) -> list[str]:
    return [found.words[int(found.word[form])] for form in found.form[found.kept]]


@pytest.mark.parametrize(("language", "text", "told_apart", "words"), EXAMPLES)
def test_words_are_read_as_a_person_expects(language: str, text: str, told_apart: str, words: str) -> None:
    found = read(text, language=language)
    assert tokens(found) == told_apart.split()
    assert kept(found) == words.split()


SENTENCES = [
    ("en", "Dr. Moor came on May 3. He sowed 3.5 rows, e.g. peas. All grew.", 3),
    ("en", 'She said "Gone." J. R. Moor left the U.S. The frost came!', 3),
    ("de", "Am 3. Mai kam z. B. Herr Dr. Moor. Die Saat usw. war da. Er ging.", 3),
    ("fr", "M. Moor arriva. Il sema env. trois rangs. Rien ne leva…", 3),
    ("es", "El Sr. Moor vino. ¿Sembró? ¡Sí!", 3),
    ("it", "Il sig. Moor venne. Seminò ca. tre file.", 2),
    ("pt", "O Sr. Moor veio. Semeou aprox. três filas.", 2),
    ("nl", "Dhr. Moor kwam. Hij zaaide ca. drie rijen, o.a. bonen.", 2),
    ("ru", "В 5 г. до засухи, т.е. давно, он ушёл. Мороз пришёл.", 2),
    ("zh", "我们种了豆子。蛞蝓来了！没有雨？", 3),
    ("ar", "هل نما الفول؟ لا. أكله الطير!", 3),
]


@pytest.mark.parametrize(("language", "text", "count"), SENTENCES)
def test_sentences_end_where_a_person_expects(language: str, text: str, count: int) -> None:
    spans = sentence_spans(text, language)
    assert len(spans) == count
    assert "".join(text[a:b] for a, b in spans).replace(" ", "") == text.replace(" ", "")
    found = read(text, language=language)
    assert int(found.sentence_end.sum()) == count  # Clean ends them there, too


def test_a_text_without_capitals_ends_its_sentences_at_full_stops() -> None:
    assert len(sentence_spans("slugs came. we left. all gone.")) == 3
    assert int(read("slugs came. we left. all gone.").sentence_end.sum()) == 3
    assert int(read("Slugs came. we left. All gone.").sentence_end.sum()) == 2


def test_what_cannot_be_seen_parts_no_word_and_ligatures_are_unfolded() -> None:
    found = read("con\u00adtent zero\u200bwidth ﬁeld 10\u2060000 می\u200cخواهم x\u200dy", language="en", numbers="keep")
    assert tokens(found) == ["content", "zerowidth", "field", "10000", "می\u200cخواهم", "xy"]


def test_hashtags_handles_and_compounds_are_a_choice() -> None:
    text = "#frost @plot16 a#b e-mail self-sown x-ray"
    plain = {"language": "en", "word_form": "written", "stop_words": (), "shortest": 1}
    assert tokens(read(text, **plain)) == ["frost", "plot16", "a", "b", "e", "mail", "self", "sown", "x", "ray"]
    signs = read(text, keep_signs=("hashtags", "handles"), hyphens="join-after-a-letter", **plain)
    assert tokens(signs) == ["#frost", "@plot16", "a", "b", "e-mail", "self", "sown", "x-ray"]
    assert tokens(read(text, hyphens="join", **plain))[-3:] == ["e-mail", "self-sown", "x-ray"]


def test_accents_are_stripped_but_letters_of_their_own_stay() -> None:
    assert kept(read("Чай ёжик", language="ru", accents="strip", word_form="written")) == ["чай", "ежик"]
    assert kept(read("crème Ärger", language="de", accents="strip", word_form="written")) == ["creme", "arger"]
    assert kept(read("हिन्दी がく", language="hi", accents="strip", word_form="written")) == ["हिन्दी", "がく"]


def test_negations_are_a_switch_of_their_own() -> None:
    text = "The frost did not come, no one can't say never"
    assert {"not", "no", "never"} <= set(kept(read(text, language="en")))
    gone = read(text, language="en", negations="drop")
    assert kept(gone) == ["frost", "come", "say"]
    assert {loss.rule.name: loss.taken for loss in gone.account}["NEGATION"] == 4


def test_lemmas_are_asked_for_by_the_case_that_is_written() -> None:
    assert kept(read("Gärten und Äpfel gingen ein", language="de", word_form="lemma")) == ["Garten", "Apfel", "gehen"]
    # A capital at the beginning of a sentence makes no noun of a word that is mostly written without.
    lemmas = kept(read("Schöne Tage. Der schöne Tag, die schöne Zeit.", language="de", word_form="lemma"))
    assert lemmas.count("schön") == 3


NEIGHBOURS = [
    ("da", "Vi sådde igen i maj, og det var meget sent på året."),
    ("sv", "Vi sådde igen i maj, och det var mycket sent på året."),
    ("bg", "Засадихме боба през май и беше много късно за нас, но растенията пораснаха."),
    ("ru", "Мы посадили фасоль в мае, и для нас это было очень поздно, но растения выросли."),
    ("uk", "Ми посадили квасолю в травні, і для нас це було дуже пізно, але рослини виросли."),
    ("sr", "Посадили смо пасуљ у мају и било је веома касно за нас, али су биљке порасле."),
    ("nl", "Wij hebben de bonen in mei gezaaid en het was laat, maar ze zijn gegroeid."),
    ("pt", "Semeámos o feijão em maio e já era muito tarde para nós, mas as plantas cresceram."),
    ("gl", "Sementamos as fabas en maio e xa era moi tarde para nós, mais as plantas medraron."),
    ("es", "Sembramos las judías en mayo y ya era muy tarde para nosotros, pero las plantas crecieron."),
    ("ca", "Vam sembrar les mongetes al maig i ja era molt tard per a nosaltres, però les plantes van créixer."),
    ("cs", "Zaseli jsme fazole v květnu a bylo to velmi pozdě pro nás, ale rostliny vyrostly."),
    ("sk", "Zasiali sme fazuľu v máji a bolo to veľmi neskoro pre nás, ale rastliny vyrástli."),
]


@pytest.mark.parametrize(("language", "text"), NEIGHBOURS)
def test_languages_that_are_near_each_other_are_told_apart(language: str, text: str) -> None:
    """Or nothing is said of them: what several languages share says the less for each."""
    assert language_of(text) == language


def test_the_ending_of_a_turkish_name_goes_without_any_stem() -> None:
    assert kept(read("Larkmoor'un", language="tr", word_form="written", stop_words=())) == ["larkmoor"]


def test_what_marks_join_and_what_they_do_not() -> None:
    plain = {"language": "en", "word_form": "written", "stop_words": (), "shortest": 1, "numbers": "keep"}
    assert tokens(read("3.a 3.5 a.5 x,y 1,2", **plain)) == ["3", "a", "3.5", "a", "5", "x", "y", "1,2"]
    assert core_of("c'qu'il", "fr", bool) == "il"
    assert len(sentence_spans("Am 12. Mai kam er. Im Jahr 2024. Dann ging er.", "de")) == 3


def test_each_document_is_read_in_its_own_language_and_the_unknown_ones_in_that_of_most() -> None:
    german = "Die Schnecken haben die Saat gefressen, und wir säten im Mai noch einmal."
    english = "The slugs took the first sowing and we sowed it again in May."
    found = clean(corpus_of(german, german, english, "Schnecken the die"), CleanSettings(language="each"), HERE)
    assert found.codes == ("de", "en")
    words = [kept(found)[at] for at in range(len(kept(found)))]
    assert words.count("schneck") == 3  # the last tells no language, and is German like most
    assert "sow" in words
    assert words.count("the") == 1  # no English list takes it there
    assert "die" not in words


def test_every_rule_finds_a_word_by_spelling_by_core_and_by_form() -> None:
    text = "The slug's trail, slugs, l'eau"
    rules = {"language": "en", "stop_words": ()}
    assert "slug" not in kept(read(text, own_rules=("never: slugs",), **rules))
    assert kept(read("late frosts, LATE frost", own_rules=("join: late frost",), **rules)) == ["late_frost"] * 2
    assert kept(read("vitamin C and type 2", own_rules=("join: vitamin c", "join: type 2"), **rules)) == [
        "vitamin_c",
        "and",
        "type_2",
    ]
    assert kept(read("l'eau des eaux", language="fr", own_rules=("never: eau",))) == []
    assert kept(read("isn't wasn't", language="en")) == ["not", "not"]


def test_a_rule_that_finds_nothing_says_so() -> None:
    found = read(
        "late frost took slugs", language="en", own_rules=("join: late frost", "never: dahlias", "slugs = snail")
    )
    assert dict(found.hits) == {"rule join: late frost": 1, "rule never: dahlias": 0, "rule slugs = snail": 1}


def test_sentences_recur_like_lines_inside_a_line_too() -> None:
    footer = "Please bring the envelope back. "
    texts = [f"Slugs took row {n}. {footer}Frost came to {n}." for n in range(5)]
    settings = CleanSettings(take_out=("recurring-sentences",), recurring_from=3.0, language="en")
    found = clean(corpus_of(*texts), settings, HERE)
    assert found.recurring == (("please bring the envelope back.", 5),)
    assert "envelop" not in kept(found)
    assert {"slug", "frost"} <= set(kept(found))


def test_the_table_of_the_formulas_page_is_this_one() -> None:
    page = (Path(__file__).parents[2] / "docs" / "formulas.md").read_text("utf-8")
    rows = re.findall(r"^\| (\w\w) \| (.+?) \| (.+?) \| (.+?) \|$", page, re.MULTILINE)
    assert [tuple(row) for row in rows] == EXAMPLES
