"""Lists of who wants which size, as they are pasted."""

import pytest

from clothyard.core.errors import BadInput
from clothyard.files.name_lists import read_name_list

FORTY = "Name\tSize\tColour\n" + "".join(
    f"Person {n}\t{'SML'[n % 3]}\t{'navy' if n % 2 else 'white'}\n" for n in range(40)
)


def cells(text, **given):
    return [(c.size, c.colour, c.quantity, c.names) for c in read_name_list(text, **given)]


def test_forty_names_in_three_sizes():
    found = read_name_list(FORTY)
    assert [c.size for c in found] == ["S", "S", "M", "M", "L", "L"]
    assert sum(c.quantity for c in found) == 40
    assert sorted(name for c in found for name in c.names) == sorted(
        f"Person {n}" for n in range(40)
    )
    assert found[0].names[:2] == ["Person 0", "Person 6"]  # size S (n % 3 = 0), white


@pytest.mark.parametrize(
    ("text", "wanted"),
    [
        ("Ada\nBo\n", [("", "", 2, ["Ada", "Bo"])]),
        ("Ada;M\nBo;S\n", [("S", "", 1, ["Bo"]), ("M", "", 1, ["Ada"])]),
        ("M,navy,12\nS,navy,8\n", [("S", "navy", 8, []), ("M", "navy", 12, [])]),
        ("Ada\tM\tRust\n", [("M", "Rust", 1, ["Ada"])]),
        ("12|8\n4|10\n", [("4", "", 10, []), ("12", "", 8, [])]),  # sizes, then pieces
        ("Size,Qty,Wording\nm,2,Ada\nM,1,\n", [("m", "", 3, ["Ada", "Ada"])]),
        ("Qty\n7\n", [("", "", 7, [])]),
        (
            "Zoë,2XL\nIo,XXL\nUm,XS",
            [("XS", "", 1, ["Um"]), ("2XL", "", 1, ["Zoë"]), ("XXL", "", 1, ["Io"])],
        ),
    ],
)
def test_what_is_pasted_is_read_with_or_without_headings(text, wanted):
    assert cells(text, colours=["navy", "rust"]) == wanted


@pytest.mark.parametrize(
    ("text", "where"),
    [
        ("", "text"),
        ("Name,Qty\nAda,two", "line 2"),
        ("M,navy,0\n", "line 1"),
        ("Name,Qty\nAda,999999999", "line 2"),
        ("Name,Name\nAda,Bo", "line 1"),
    ],
)
def test_what_is_no_list_is_told_by_its_line(text, where):
    with pytest.raises(BadInput) as error:
        read_name_list(text)
    assert error.value.where == where
    assert error.value.remedy
