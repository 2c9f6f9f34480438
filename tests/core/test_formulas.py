from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from caddet.core.figures.language import FormulaError, Quantity, parse, work_out, written
from caddet.core.figures.sums import Figure, Given, add_up

NAMES = {"bust": Quantity(920.0, 1), "ease": Quantity(100.0, 1), "n": Quantity(3.0, 0)}


def value(text: str) -> Quantity:
    return work_out(parse(text), NAMES)


@pytest.mark.parametrize(
    ("text", "wanted", "dimension"),
    [
        ("(bust + ease) / 4", 255.0, 1),
        ("bust/4 + 2cm", 250.0, 1),
        ("7/8in", 22.225, 1),
        ("1 1/2", None, 0),
        ("bust / ease", 9.2, 0),
        ("sqrt(bust*bust)", 920.0, 1),
        ("if(n > 2, 1cm, 2cm)", 10.0, 1),
        ("if(n > 2, 1cm, 1/0)", 10.0, 1),
        ("clamp(bust, 1cm, 50cm)", 500.0, 1),
        ("-ease × 2", -200.0, 1),
        ("bust − ease − ease", 720.0, 1),
        ("bust / 2 / 2", 230.0, 1),
        ("ceil(2.1) + floor(2.9)", 5.0, 0),
        ("min(3, 1, 2)", 1.0, 0),
        ("sin(30)", 0.5, 0),
        ("10in", 254.0, 1),
        ("half(bust)", 460.0, 1),
        ("quarter(bust + ease)", 255.0, 1),
        ("slant(3cm, 4cm)", 50.0, 1),
        ("stretched(10cm, 0.3)", 76.923077, 1),
        ("gathered(bust, 1.5)", 1380.0, 1),
        ("radius(bust, 0.5)", 292.845095, 1),
        ("arc(radius(bust, 0.25), 0.25)", 920.0, 1),
    ],
)
def test_works_out(text: str, wanted: float | None, dimension: int) -> None:
    if wanted is None:
        with pytest.raises(FormulaError):
            value(text)
        return
    got = value(text)
    assert got.value == pytest.approx(wanted)
    assert got.dimension == dimension


@pytest.mark.parametrize(
    ("text", "position", "reason"),
    [
        ("bust + 2", 5, "unit"),
        ("bust +", 6, "stops short"),
        ("bust $ 2", 5, "no meaning"),
        ("bost", 0, "no “bost”"),
        ("bust / 0", 5, "division by zero"),
        ("(bust", 5, "expected “)”"),
        ("f(2)", 0, "no function"),
        ("max(2cm, 3)", 0, "unit"),
        ("__import__('os')", 11, "no meaning"),
        ("bust bust", 5, "did not expect"),
        ("if(n, 2)", 0, "takes 3"),
        ("sqrt(-4)", 0, "positive"),
        ("radius(bust, 0)", 0, "division by zero"),
        ("stretched(bust, 1cm)", 0, "plain number"),
        ("n < bust", 2, "unit"),
    ],
)
def test_errors_stand_at_the_character(text: str, position: int, reason: str) -> None:
    with pytest.raises(FormulaError) as refused:
        value(text)
    assert refused.value.position == position
    assert reason in refused.value.reason


def test_long_and_deep_formulas_are_refused_at_once() -> None:
    for text in ("1+" * 5000 + "1", "(" * 200 + "1" + ")" * 200):
        with pytest.raises(FormulaError):
            parse(text)


@given(st.text(alphabet="bust ea+-*/()0123456789.cmin,<>=", max_size=40))
def test_any_text_gives_a_value_or_a_located_error(text: str) -> None:
    try:
        value(text)
    except FormulaError as error:
        assert 0 <= error.position <= len(text)


def test_the_sum_is_written_with_its_numbers() -> None:
    labels = {"bust": "bust", "ease": "ease", "n": "darts"}
    assert written(parse("(bust + ease) / 4 + 0.5cm"), NAMES, labels, "cm") == "(bust 92.0 + ease 10.0) ÷ 4 + 0.5"
    assert written(parse("bust - (ease - 1cm)"), NAMES, labels, "cm") == "bust 92.0 − (ease 10.0 − 1.0)"
    assert written(parse("if(n > 2, bust, ease) * 2"), NAMES, labels, "cm") == "bust 92.0 × 2"
    assert written(parse("bust / 4"), NAMES, labels, "in") == "bust 36 1/4 ÷ 4"


FIGURES = (
    Figure("quarter", "Quarter", "bust / 4"),
    Figure("twice", "Twice", "quarter * 2"),
    Figure("darts", "Darts", "n", kind="count"),
)
GIVENS = [Given("bust", "bust", Quantity(920.0, 1), estimated=True), Given("n", "n", Quantity(3.0, 0))]


def test_an_override_is_used_marked_and_can_be_taken_back() -> None:
    sums, findings = add_up(FIGURES, GIVENS, {"quarter": "bust / 4 + 1cm"})
    assert (sums["quarter"].value, sums["twice"].value) == (240.0, 480.0)
    assert sums["quarter"].override == "bust / 4 + 1cm" and not findings
    assert add_up(FIGURES, GIVENS, {})[0]["quarter"].override is None


@pytest.mark.parametrize(
    "formula", ["bust / 0", "twice", "nothing", "5", "(((", "bust * bust", "bust * 1000", "quarter"]
)
def test_a_bad_override_is_a_finding_at_the_figure_and_the_draft_goes_on(formula: str) -> None:
    sums, findings = add_up(FIGURES, GIVENS, {"quarter": formula})
    assert sums["quarter"].value == 230.0
    assert [finding.place for finding in findings] == ["figures.quarter"]


def test_figures_that_lean_on_an_estimate_say_so_all_the_way_down() -> None:
    sums, _ = add_up(FIGURES, GIVENS, {})
    assert sums["twice"].estimates == ("bust",) and sums["darts"].estimates == ()


# --- nothing but arithmetic -----------------------------------------------------------------------

_atoms = st.sampled_from(
    [
        "bust",
        "ease",
        "n",
        "2",
        "0",
        "1.5",
        "3cm",
        "7/8in",
        "9" * 400,
        ".5",
        "1e999",
        "__import__",
        "os",
        "bust.real",
        "None",
        "True",
        "lambda",
        "x" * 90,
    ]
)
_joined = st.sampled_from(
    ["{} + {}", "{} * {}", "{} / {}", "{} - {}", "{} < {}", "min({}, {})", "max({}, {})", "radius({}, {})", "slant({}, {})", "{} ** {}", "{}.{}",
     "{}[{}]", "{}({})", "if({}, {}, 1)", "{}; {}", "{} if {}", "gathered({}, {})", "{} = {}", "{} and {}", "`{}{}`"]
)  # fmt: skip
_one = st.sampled_from(
    [
        "-{}",
        "({})",
        "sqrt({})",
        "floor({})",
        "ceil({})",
        "sin({})",
        "tan({})",
        "half({})",
        "eval({})",
        'f"{}"',
        "[{}]",
        "{{{}}}",
    ]
)
_formulas = st.recursive(
    _atoms,
    lambda inner: (
        st.builds(lambda form, a, b: form.format(a, b), _joined, inner, inner) | st.builds(str.format, _one, inner)
    ),
    max_leaves=12,
)


@given(_formulas | st.text(max_size=60))
def test_formulas_reach_nothing_but_arithmetic(text: str) -> None:
    """Whatever is typed is a number within bounds or an error at a character; nothing else is looked up or run."""
    seen: set[str] = set()

    class Looked(dict[str, Quantity]):
        def __getitem__(self, name: str) -> Quantity:
            seen.add(name)
            return NAMES[name]

    try:
        node = parse(text)
        result = work_out(node, Looked())
    except FormulaError as error:
        assert 0 <= error.position <= max(len(text), 500) and error.reason
        return
    assert abs(result.value) <= 1e12 and type(result.value) is float and seen <= set(NAMES)
    assert written(node, NAMES, {}, "cm")


@pytest.mark.parametrize("function", ["floor", "ceil", "sin", "cos", "tan", "sqrt", "abs", "half"])
@pytest.mark.parametrize("number", ["9" * 309, "9" * 400, "9" * 200 + "*" + "9" * 200, "1/0", "0 - " + "9" * 309])
def test_numbers_without_end_are_an_error_with_their_place(function: str, number: str) -> None:
    with pytest.raises(FormulaError) as refused:
        value(f"{function}({number})")
    assert "too large" in refused.value.reason or "division" in refused.value.reason


def test_every_result_stays_within_bounds() -> None:
    for text in (
        "9" * 12 + " * " + "9" * 12,
        "tan(90)",
        "bust*bust*bust*bust*bust",
        "radius(bust, 0." + "0" * 60 + "1)",
        "1/(bust*bust*bust*bust*bust*bust*bust*bust*bust*bust*bust*bust*bust)",
    ):
        with pytest.raises(FormulaError, match="too large"):
            value(text)
