"""What is kept can be read again; one bad standard never shuts the shop."""

import pytest

from clothyard.core.errors import BadInput, Conflict
from clothyard.services.designs import library as designs
from clothyard.services.house import standards
from clothyard.services.quotes import drafts as quotes
from clothyard.store.models import Quote, StandardChange
from clothyard.store.standards import changed_standards
from tests.conftest import polos
from tests.services.test_quotes import document, made

HALF = "\ud83d"


def nested(depth):
    value = "x"
    for _ in range(depth):
        value = [value]
    return value


@pytest.mark.parametrize(
    ("job", "where", "says"),
    [
        (polos(goods__class=HALF), "job.lines[0].goods.class", "half a character"),
        (polos(line__names=["Ada", f"B{HALF}"]), "job.lines[0].names[1]", "half a character"),
        (polos(job__overruled=[{HALF: 1}]), "job.overruled[0]", "half a character"),
        (polos(job__x="a\x00"), "job.x", "ends text"),
        (polos(job__margin=float("inf")), "job.margin", "finite"),
        (polos(job__x=float("nan")), "job.x", "finite"),
        (polos(line__quantity=10**400), "job.lines[0].quantity", "too large"),
        (polos(job__tiers=nested(300)), "job.tiers", "40 deep"),
    ],
)
def test_what_could_not_be_read_again_is_refused(shop, job, where, says):
    with pytest.raises(BadInput, match=says) as refused:
        made(shop, job=job)
    assert refused.value.where.startswith(where)
    view = made(shop)
    with pytest.raises(BadInput, match=says):
        quotes.save_quote(shop, view.id, document(job=job), seen=view.revision)
    assert quotes.list_quotes(shop).items == [quotes.QuoteRow(**dict(quotes.find_quote(shop, 1)))]


@pytest.mark.parametrize("value", [HALF, nested(60), 10**31, {"a": HALF}])
def test_a_standard_that_could_not_be_read_again_is_refused(shop, value):
    for key in ("price.margin", "shop.name", "blanks.x.prices"):
        with pytest.raises(BadInput):
            standards.change_standard(shop, key, value)
    assert changed_standards(shop) == {}


@pytest.mark.parametrize(
    ("key", "value"),
    [
        ("price.margin", '"2"'),
        ("price.margin", "not json"),
        ("price.margin", "{}"),
        ("goods.pique-polo.backing", '"gone"'),
        ("price.tiers", "7"),
        ("shop.name", "null"),
    ],
)
def test_one_bad_standard_is_set_aside_and_told(shop, key, value):
    before = made(shop).total
    standards.change_standard(shop, "shop.address", "2 Quay Lane")
    supplier = standards.NewRow(section="suppliers", label="Wold Blanks")
    standards.add_row(shop, supplier)  # what points to another row of its own stands with it
    standards.add_row(
        shop,
        standards.NewRow(
            section="blanks",
            label="A polo",
            values={"goods": "pique-polo", "prices": "6.40", "supplier": "wold-blanks"},
        ),
    )
    with shop.unit() as unit, unit.reading() as session:
        session.add(StandardChange(key=key, value=value, changed_on=""))
    assert quotes.find_quote(shop, 1).estimate.total.to_pay == before
    told = [view for view in standards.list_standards(shop) if view.set_aside]
    assert [view.key for view in told] == [key]
    assert standards.shop_house(shop).shop.address == "2 Quay Lane"  # the others stand
    standards.reset_standard(shop, key)
    assert not [view for view in standards.list_standards(shop) if view.set_aside]


def test_a_bad_row_of_the_shop_s_own_is_set_aside_whole_and_can_be_removed(shop):
    new = standards.NewRow(section="hoops", label="Own", like="100x100")
    [first, *_] = standards.add_row(shop, new)
    row = first.key.split(".")[1]
    with shop.unit() as unit, unit.reading() as session:
        session.get(StandardChange, f"hoops.{row}.field_width_mm").value = '"-4"'
    told = {view.key for view in standards.list_standards(shop) if view.set_aside}
    assert f"hoops.{row}.label" in told
    assert row not in standards.shop_house(shop).hoops
    assert made(shop).total == "364.80"
    assert standards.remove_row(shop, "hoops", row) == len(told)
    assert not [view for view in standards.list_standards(shop) if view.set_aside]


def test_one_bad_row_does_not_fail_a_list(shop):
    made(shop), made(shop)
    with shop.unit() as unit, unit.reading() as session:
        session.get(Quote, 1).job = '{"lines": ['
    assert [row.id for row in quotes.list_quotes(shop).items] == [2, 1]
    with pytest.raises(Conflict, match="what is kept of Q-0001 is damaged"):
        quotes.find_quote(shop, 1)
    assert quotes.delete_quote(shop, 1).deleted


def test_the_same_bytes_have_one_meaning(shop, crest_files):
    kept = designs.keep_design(shop, crest_files["exp"], "crest.exp")
    assert designs.keep_design(shop, crest_files["exp"], "later.exp").sha256 == kept.sha256
    with pytest.raises(BadInput, match=r"read as 'later.exp' before") as refused:
        designs.keep_design(shop, crest_files["exp"], "crest.tap")
    assert refused.value.remedy == "Name it .exp."
    assert designs.find_design(shop, kept.sha256).inspection == kept.inspection


def test_a_file_whose_header_does_not_agree_is_kept_and_told(shop, crest_files):
    data = bytearray(crest_files["dst"])
    data[14:26] = b"ST:  21865\r "
    kept = designs.keep_design(shop, bytes(data), "crest.dst")
    assert "counts 21,865" in kept.told[0]
    job = polos(placement__design={"sha256": kept.sha256})
    told = made(shop, job=job).estimate.lines[0].advice
    assert [a.level for a in told if a.code == "file-header"] == ["warn"]
