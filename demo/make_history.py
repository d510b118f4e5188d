"""Makes demo/history.csv: ten weeks of the sample workshop's orders, made up by seeded rules. Run it by hand.

Weeks rise towards the holidays, one is bad (the kiln was cold), weekends and evenings order more of what is eaten. The
dates are those before the newest order of demo/orders.csv; loading moves both to today.
"""

import csv
import random
from datetime import date, timedelta
from pathlib import Path

NEWEST = date(2026, 11, 23)
#: Orders of each week, the oldest first; the fourth is the bad one.
WEEKS = (24, 26, 27, 12, 25, 29, 31, 36, 41, 46)
#: sku, title, price, weight of its being chosen, how many at once with their weights
RANGE = (
    ("PRE-BLK", "Blackcurrant and bay preserve, 250 ml", "6.80", 20, ((1, 3), (2, 8), (3, 3), (4, 3), (6, 2))),
    ("PRE-QUI", "Quince preserve, 250 ml", "7.20", 12, ((1, 3), (2, 6), (3, 3), (6, 1))),
    ("FUD-HON", "Honey fudge, box of 12", "8.50", 13, ((1, 5), (2, 4), (3, 1))),
    ("LOAF-GIN", "Ginger oat loaf", "9.20", 9, ((1, 7), (2, 2))),
    ("SOAP-OAT", "Oat soap bar", "4.20", 7, ((2, 3), (3, 4), (6, 1))),
    ("SOAP-3", "Oat soap, three bars boxed", "11.50", 7, ((1, 5), (2, 2))),
    ("SALT-PIG", "Salt pig, stoneware", "29.00", 7, ((1, 9),)),
    ("BUT-CRO", "Butter crock, stoneware", "34.00", 6, ((1, 9),)),
    ("CLO-LIN", "Linen cloth", "14.00", 6, ((1, 3), (2, 5), (3, 1))),
    ("PLAT-L", "Serving platter, large", "58.00", 2, ((1, 9),)),
    ("HON-HEA", "Heather honey, 340 g", "9.80", 6, ((1, 4), (2, 4), (3, 1))),
    ("PIC-DAM", "Damson pickle, 400 ml", "7.40", 5, ((1, 4), (2, 4))),
    ("LOAF-RYE", "Seeded rye loaf", "8.60", 4, ((1, 7), (2, 2))),
    ("FUD-SEA", "Sea salt fudge, box of 12", "8.80", 4, ((1, 5), (2, 3))),
    ("TEA-MIX", "Herb tea, loose, tin", "7.60", 3, ((1, 6), (2, 2))),
    ("SPO-OAK", "Oak spoon", "9.00", 3, ((1, 6), (2, 1))),
)
#: What is bought along with it now and then.
WITH = {"SALT-PIG": "CLO-LIN", "PRE-BLK": "LOAF-GIN", "LOAF-GIN": "PRE-QUI", "SOAP-OAT": "CLO-LIN"}
FIRST = (  # noqa: SIM905 - read as a list of names
    "Ottilie Bram Linnea Corvin Perpetua Ansel Tamsin Edda Jory Sunniva Casper Hester Ivo Merle Dorcas Florian "
    "Wilhelmina Rafe Isolde Emeric Thora Lucan Verity Osric Maud Piers Sabra Alwin Greta Corin Hedda Tobiah"
).split()
LAST = (  # noqa: SIM905 - read as a list of names
    "Fenner Ashcombe Quist Haldane Lisle Dray Orrell Varley Penhallam Rook Wynd Mardle Tranter Sandys Imrie Keld "
    "Prowse Nettleship Lowick Farrow Stane Merrick Tolland Usher Brack Cottle Dunmore Ellery"
).split()
TOWNS = (
    ("Hallowfen", "HW", 5), ("Merrowby", "MB", 4), ("Dunmere", "DM", 6), ("Tidwell Sands", "TW", 6),
    ("Oskerry", "OK", 9), ("Quernholm", "QH", 7),
)  # fmt: skip
STREETS = "Weir Steps|Sexton Lane|Tallow Yard|Pike Street|Kiln Bank|Long Row|Net Loft|Rope Walk|Chapel Green"


def main() -> None:
    """Write the file."""
    draw = random.Random(20261123)
    regulars = [_buyer(draw) for _ in range(60)]
    rows = []
    number = 601
    for week, orders in enumerate(WEEKS):
        first = NEWEST - timedelta(days=7 * (len(WEEKS) - week))
        days = sorted(draw.choices(range(7), weights=(7, 6, 5, 5, 6, 9, 10), k=orders))
        for day in days:
            buyer = draw.choice(regulars) if draw.random() < 0.35 else _buyer(draw)
            sku, title, price, _, amounts = draw.choices(RANGE, weights=[one[3] for one in RANGE])[0]
            lines = [(sku, title, price, draw.choices([a for a, _ in amounts], weights=[w for _, w in amounts])[0])]
            along = WITH.get(sku)
            if along and draw.random() < 0.22:
                other = next(one for one in RANGE if one[0] == along)
                lines.append((other[0], other[1], other[2], 1))
            for one in lines:
                rows.append(
                    {
                        "order": f"{number:04}", "channel": "market stall" if draw.random() < 0.15 else "own shop",
                        "placed_on": (first + timedelta(days=day)).isoformat(), "buyer": buyer[0], "address": buyer[1],
                        "town": buyer[2], "postcode": buyer[3], "country": "ALM", "sku": one[0], "title": one[1],
                        "quantity": one[3], "unit_price": one[2], "postage_charged": "5.50", "paid": "yes", "gift": "",
                        "note": "",
                    }
                )  # fmt: skip
            for row in rows[-len(lines) :]:
                row["channel"] = rows[-1]["channel"]
            number += 1
    path = Path(__file__).parent / "history.csv"
    with path.open("w", newline="", encoding="utf-8") as out:
        writer = csv.DictWriter(out, fieldnames=list(rows[0]), lineterminator="\n")
        writer.writeheader()
        writer.writerows(rows)


def _buyer(draw: random.Random) -> tuple[str, str, str, str]:
    town, code, most = draw.choice(TOWNS)
    street = draw.choice(STREETS.split("|"))
    name = f"{draw.choice(FIRST)} {draw.choice(LAST)}"
    return name, f"{draw.randint(1, 90)} {street}", town, f"{code}{draw.randint(1, most)} {draw.randint(1, 9)}"


if __name__ == "__main__":
    main()
