"""The drawn log: what lies there follows from the marks alone, whatever is sent twice, taken back or laid in error."""

from hypothesis import given
from hypothesis import strategies as st

from caltin_core.plan.drawn import Mark, goes_on, lies, standing
from caltin_core.plan.timing import PAUSE, pace_of, spans_of

RECIPES = {"brow": ["ochre", "red", "dark"], "cheek": ["ochre", "pale"]}


def mark(id, *laid):
    return Mark(id, laid)


@st.composite
def drawings(draw):
    """A drawing carried out in any order of places, with marks sent again, and some taken back at once."""
    due = dict.fromkeys(RECIPES, 0)
    marks, truth = [], {}
    for number in range(draw(st.integers(0, 12))):
        open_ = [p for p in RECIPES if due[p] < len(RECIPES[p])]
        if not open_:
            break
        place = draw(st.sampled_from(open_))
        marks.append(mark(str(number), (place, due[place], RECIPES[place][due[place]])))
        if draw(st.booleans()):
            marks.append(marks[draw(st.integers(0, len(marks) - 1))])
        if draw(st.integers(0, 3)) == 0:
            marks.append(Mark(f"back {number}", undoes=str(number)))
        else:
            due[place] += 1
            truth.setdefault(place, []).append(RECIPES[place][due[place] - 1])
    return marks, truth


@given(drawings())
def test_what_lies_there_is_what_was_laid_and_nothing_twice(drawing):
    marks, truth = drawing
    assert {p: x for p, x in lies(marks).items() if x} == truth
    assert all(goes_on(RECIPES[place], there) for place, there in lies(marks).items())


def test_a_step_marked_by_two_devices_counts_once():
    both = [mark("one", ("brow", 0, "ochre")), mark("two", ("brow", 0, "ochre")), mark("two", ("brow", 1, "red"))]
    assert lies(both) == {"brow": ["ochre"]}


def test_one_mark_may_tell_many_layers_and_is_taken_back_whole():
    up_to_here = mark("a", ("brow", 0, "ochre"), ("brow", 1, "red"), ("cheek", 0, "ochre"))
    assert lies([up_to_here]) == {"brow": ["ochre", "red"], "cheek": ["ochre"]}
    assert lies([up_to_here, Mark("b", undoes="a")]) == {}


def test_a_mark_taken_back_does_not_come_again_when_it_is_sent_late():
    late = [mark("a", ("brow", 0, "ochre")), Mark("b", undoes="a")]
    assert standing([*late, Mark("c", undoes="gone")]) == []


def test_a_recipe_goes_on_only_from_its_own_beginning():
    fine = [[], ["ochre"], ["ochre", "red"], RECIPES["brow"]]
    wrong = [["red"], ["ochre", "red", "dark", "pale"]]
    assert [goes_on(RECIPES["brow"], there) for there in [*fine, *wrong]] == [True] * 4 + [False] * 2


def test_a_pace_is_the_median_of_what_was_taken_and_a_pause_tells_nothing():
    steady = [(3.0, 2.0)] * 6
    assert pace_of(steady) == 1.5
    assert pace_of([*steady, (PAUSE + 1, 2.0), (PAUSE + 1, 2.0)]) == 1.5
    assert pace_of(steady[:5]) == 1.0


def test_a_pause_ends_a_sitting():
    assert spans_of([]) == []
    assert spans_of([0, 10, 30]) == [(0, 2)]
    assert spans_of([0, 10, 10 + PAUSE + 1, 200]) == [(0, 1), (2, 2), (3, 3)]
