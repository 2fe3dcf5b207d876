"""What is threaded: needles once an order, from what is on the machine."""

import random

from clothyard.core.run.needles import needles_of, on_after
from clothyard.core.stock.needs import thread_on
from clothyard.core.work.document import PassTold, Shared, ThreadLaid


def laid(block, colour, stitches=1000, needle=1):
    return ThreadLaid(
        block=block,
        colour=colour,
        thread="polyester",
        needle=needle,
        stitches=stitches,
        needle_s=60.0,
        needle_m=6.0,
        bobbin_m=2.0,
    )


def a_pass(id_, *colours, **stitches):
    """A pass of colours; one that begins with a dash takes turns on the last needle."""
    threads = [
        laid(n, c.strip("-"), stitches.get(c, 1000), None if c.startswith("-") else n)
        for n, c in enumerate(colours, 1)
    ]
    return PassTold.model_construct(id=id_, threads=threads, of=[placed(id_)])


def placed(id_):
    return Shared(line="l1", placement=id_, pieces=6)


def on(**threads):
    return {int(n[1:]): f"polyester|{colour}" for n, colour in threads.items()}


def test_a_sleeve_keeps_the_needles_of_the_chest():
    chest = a_pass("chest", "navy", "gold", "white", "red")
    sleeve = a_pass("sleeve", "red", "white", "gold", "navy")
    found = needles_of([chest, sleeve], 10, {})
    assert found["chest"].changed == {1, 2, 3, 4}
    assert found["sleeve"].changed == frozenset()
    assert [found["sleeve"].of[n] for n in (4, 3, 2, 1)] == [
        found["chest"].of[n] for n in (1, 2, 3, 4)
    ]


def test_what_is_on_stays_and_others_take_free_needles_before_taken_ones():
    found = needles_of([a_pass("p", "navy", "gold")], 4, on(n3="navy", n1="rust", n2="sand"))
    assert dict(found["p"].of) == {1: 3, 2: 4}
    assert found["p"].changed == {4}
    full = on(n1="rust", n2="sand", n3="navy", n4="plum")
    assert dict(needles_of([a_pass("p", "navy", "gold")], 4, full)["p"].of) == {1: 3, 2: 1}


def test_most_used_threads_come_first_and_are_threaded_when_they_are_needed():
    one, other = a_pass("one", "sand", sand=500), a_pass("other", "navy", "gold", navy=9000)
    found = needles_of([one, other], 6, {})
    assert found["other"].of[1] == 1  # navy is used most, over the whole order
    assert found["one"].changed == {3}
    assert found["other"].changed == {1, 2}


def test_an_order_with_more_threads_than_needles_gives_up_what_is_needed_last():
    passes = [a_pass("a", "r", "s", "t"), a_pass("b", "u", "r"), a_pass("c", "r", "s", "v")]
    found = needles_of(passes, 3, {})
    assert found["a"].changed == {1, 2, 3}
    assert found["b"].changed == {found["a"].of[3]}  # t is never needed again; r and s are
    assert found["c"].changed == {found["b"].of[1]}


def test_a_thread_of_no_known_colour_is_never_taken_for_another():
    unknown = PassTold.model_construct(id="u", threads=[laid(1, None)], of=[placed("u")])
    found = needles_of([unknown], 4, {1: "?1"})
    assert found["u"].changed == {found["u"].of[1]}
    assert on_after(unknown, found["u"], {}) == {}


def test_colours_that_take_turns_have_the_last_needle():
    turning = a_pass("t", "navy", "-gold", "-rust")
    found = needles_of([turning], 2, on(n2="navy"))
    assert dict(found["t"].of) == {1: 1, 2: None, 3: None}  # the last is theirs: navy moves


def test_any_order_on_any_machine_has_each_thread_on_one_needle():
    chance = random.Random(7)
    for _ in range(300):
        needles = chance.choice([1, 4, 6, 10])
        colours = [f"c{n}" for n in range(needles + 4)]
        passes = [
            a_pass(f"p{n}", *chance.sample(colours, chance.randint(1, needles)))
            for n in range(chance.randint(1, 4))
        ]
        state = {n: f"polyester|{chance.choice(colours)}" for n in range(1, needles + 1)}
        state = {n: t for n, t in state.items() if chance.random() < 0.6}
        for each in passes:
            in_turn = sorted(passes, key=lambda one: one.id != each.id)  # it is sewn now
            needled = needles_of(in_turn, needles, state)[each.id]
            given = [needled.of[x.block] for x in each.threads]
            assert len({*given}) == len(given), (each, state)
            assert {*given} <= {*range(1, needles + 1)}
            after = on_after(each, needled, state)
            changed = {n for n in {*state, *after} if state.get(n) != after.get(n)}
            assert changed == needled.changed
            for x in each.threads:
                assert after[needled.of[x.block]] == thread_on(x)
            again = needles_of(in_turn, needles, after)[each.id]
            assert again.changed == frozenset()  # once it is threaded, all of it stays
            state = after
