# ruff: noqa: E501 - a line of a file is as long as it is
"""Ten order files as other programs might write them, each with its oddity, and what a person reads in them.

Made up. Each comes to orders: number, day, buyer, address lines, postcode, country, paid, where it stands, postage, and
its lines (code or title, units, unit price). Used by the tests of matching and by the scribbling test.
"""

import io
from dataclasses import dataclass, field
from datetime import date, datetime

from openpyxl import Workbook

__all__ = ["FILES", "OrderFile", "Wanted"]


@dataclass(frozen=True, kw_only=True)
class Wanted:
    number: str
    placed_on: date
    buyer: str
    address: tuple[str, ...]
    postcode: str
    country: str
    lines: tuple[tuple[str, int, str], ...]
    postage: str = "0.00"
    paid: bool = True
    standing: str = "open"
    note: str = ""


@dataclass(frozen=True, kw_only=True)
class OrderFile:
    name: str
    content: bytes
    columns: dict[str, str]  #: field -> column that is to be found
    orders: tuple[Wanted, ...]
    left_out: int = 0  #: lines that are totals
    asked: tuple[str, ...] = ()  #: what has to be asked, as about:field
    answers: dict[str, object] = field(default_factory=dict)


def _order(number: str, day: tuple[int, int], buyer: str, *address: str, **rest: object) -> Wanted:
    *lines, postcode, country = address
    return Wanted(
        number=number,
        placed_on=date(2026, *day),
        buyer=buyer,
        address=tuple(lines),
        postcode=postcode,
        country=country,
        **rest,  # type: ignore[arg-type]
    )


_SEMICOLONS = OrderFile(
    name="semicolons, German words, decimal comma, thousands point, day first, Windows-1252",
    content=(
        "Bestellnummer;Bestelldatum;Empfänger;Straße;PLZ;Ort;Land;Artikelnummer;Bezeichnung;Menge;Einzelpreis;Versandkosten;Zahlungsstatus\n"
        "B-501;27.11.2026;Jörg Mühlen;Weiße Gasse 3;10115;Lindenau;Deutschland;MUG-BLU;Becher blau;2;14,50 €;4,90 €;bezahlt\n"
        "B-501;27.11.2026;Jörg Mühlen;Weiße Gasse 3;10115;Lindenau;Deutschland;CAN-ROS;Kerze Rose;1;1.234,50 €;4,90 €;bezahlt\n"
        "B-502;03.11.2026;Käthe Öhl;Am Rain 9;04109;Ahrenfeld;Österreich;MUG-BLU;Becher blau;1;14,50 €;6,20 €;offen\n"
    ).encode("cp1252"),
    columns={"order": "Bestellnummer", "placed_on": "Bestelldatum", "buyer": "Empfänger", "postcode": "PLZ",
             "country": "Land", "sku": "Artikelnummer", "quantity": "Menge", "unit_price": "Einzelpreis"},
    orders=(
        _order("B-501", (11, 27), "Jörg Mühlen", "Weiße Gasse 3", "Lindenau", "10115", "DE", postage="4.90",
               lines=(("MUG-BLU", 2, "14.50"), ("CAN-ROS", 1, "1234.50"))),
        _order("B-502", (11, 3), "Käthe Öhl", "Am Rain 9", "Ahrenfeld", "04109", "AT", postage="6.20", paid=False,
               lines=(("MUG-BLU", 1, "14.50"),)),
    ),
)  # fmt: skip

_MONTH_FIRST = OrderFile(
    name="commas, month first, currency signs, state and zip, money with thousands commas, UTF-8 with mark",
    content=(
        "﻿Order ID,Order Date,Ship To Name,Ship To Address,Ship To City,Ship To State,Ship To Zip,Ship To Country,SKU,Qty,Item Price,Shipping\n"
        '7001,11/27/2026 14:05,Dana Hollis,"4 Pine Rd, Apt 2",Weston,OK,00417,United States,MUG-BLU,2,"$1,014.50",$7.00\n'
        "7002,11/03/2026 09:10,Lee Marsh,9 Elm St,Dalby,TX,75001,Canada,CAN-ROS,1,$8.00,$7.00\n"
    ).encode(),
    columns={"order": "Order ID", "placed_on": "Order Date", "buyer": "Ship To Name", "region": "Ship To State",
             "postcode": "Ship To Zip", "quantity": "Qty"},
    orders=(
        _order("7001", (11, 27), "Dana Hollis", "4 Pine Rd, Apt 2", "Weston, OK", "00417", "US", postage="7.00",
               lines=(("MUG-BLU", 2, "1014.50"),)),
        _order("7002", (11, 3), "Lee Marsh", "9 Elm St", "Dalby, TX", "75001", "CA", postage="7.00",
               lines=(("CAN-ROS", 1, "8.00"),)),
    ),
)  # fmt: skip

_UNCERTAIN = OrderFile(
    name="days and amounts that read both ways",
    content=(
        b"Sale Number,Date,Name,Street,Town,Postcode,Country,Item,Quantity,Price\n"
        b'88,03/04/2026,Ann Reed,1 Low Row,Hallowfen,HW3 2,ALM,MUG-BLU,1,"1,250"\n'
        b'89,05/06/2026,Bea Stone,2 Low Row,Hallowfen,HW3 2,ALM,CAN-ROS,2,"2,500"\n'
    ),
    columns={"order": "Sale Number", "placed_on": "Date", "buyer": "Name", "quantity": "Quantity"},
    asked=("day_order:placed_on", "decimal_mark:unit_price"),
    answers={"day_order": "day_first", "decimal_mark": "point"},
    orders=(
        _order("88", (4, 3), "Ann Reed", "1 Low Row", "Hallowfen", "HW3 2", "ALM", lines=(("MUG-BLU", 1, "1250.00"),)),
        _order("89", (6, 5), "Bea Stone", "2 Low Row", "Hallowfen", "HW3 2", "ALM", lines=(("CAN-ROS", 2, "2500.00"),)),
    ),
)  # fmt: skip

_ITEMS_IN_A_CELL = OrderFile(
    name="one line an order, several items in a cell, a totals line",
    content=(
        "Order number\tCreated at\tCustomer\tAddress line 1\tAddress line 2\tCity\tPostal code\tCountry code\tItems\tSubtotal\tDelivery charge\n"
        "A1\t2026-11-20T08:15:00Z\tIda Brook\t7 Mill Lane\tThe Loft\tMerrowby\tMB1 7\tALM\t2x MUG-BLU; 1x CAN-ROS\t37.00\t4.50\n"
        "A2\t2026-11-21T09:00:00Z\tOlaf Dene\t3 Quay\t\tDunmere\tDM2 1\tALM\tBlue mug [MUG-BLU] x 3\t43.50\t4.50\n"
        "Total\t\t\t\t\t\t\t\t\t80.50\t9.00\n"
    ).encode("utf-16"),
    columns={"order": "Order number", "items": "Items", "goods_total": "Subtotal", "address2": "Address line 2"},
    left_out=1,
    orders=(
        _order("A1", (11, 20), "Ida Brook", "7 Mill Lane, The Loft", "Merrowby", "MB1 7", "ALM", postage="4.50",
               lines=(("MUG-BLU", 2, "12.33"), ("CAN-ROS", 1, "12.33"))),
        _order("A2", (11, 21), "Olaf Dene", "3 Quay", "Dunmere", "DM2 1", "ALM", postage="4.50",
               lines=(("MUG-BLU", 3, "14.50"),)),
    ),
)  # fmt: skip

_BLANKS_BELOW = OrderFile(
    name="cells of further lines of an order left empty, the total of a line instead of a price",
    content=(
        b"order ref,ordered on,first name,last name,company,street,town,postcode,country,product code,units,line total,postage,paid on\n"
        b"R10,21 Nov 2026,Ed,Marlow,Marlow & Sons,5 High St,Tidwell Sands,TW2 6,ALM,MUG-BLU,2,29.00,5.50,22 Nov 2026\n"
        b",,,,,,,,,CAN-ROS,3,24.00,,\n"
        b"R11,22 Nov 2026,Flo,Pike,,8 High St,Tidwell Sands,TW2 6,ALM,CAN-ROS,1,8.00,3.00,\n"
    ),
    columns={"order": "order ref", "first_name": "first name", "last_name": "last name", "line_total": "line total"},
    orders=(
        _order("R10", (11, 21), "Ed Marlow", "Marlow & Sons", "5 High St", "Tidwell Sands", "TW2 6", "ALM", postage="5.50",
               lines=(("MUG-BLU", 2, "14.50"), ("CAN-ROS", 3, "8.00"))),
        _order("R11", (11, 22), "Flo Pike", "8 High St", "Tidwell Sands", "TW2 6", "ALM", postage="3.00", paid=False,
               lines=(("CAN-ROS", 1, "8.00"),)),
    ),
)  # fmt: skip

_QUOTED = OrderFile(
    name="a title above the heading, quoted line breaks, delivery and billing addresses, states of orders",
    content=(
        b'"Orders of the week"\n\n'
        b'"Order No.","Order Status","Billing Name","Billing Postcode","Delivery Name","Delivery Street","Delivery Town","Delivery Postcode","Delivery Country","SKU","Quantity","Unit Price","Order Date","Customer note"\n'
        b'"K-1","Processing","Pay Er","ZZ9 9","Gil Ford","2 Weir Steps\nBack door","Hallowfen","HW3 2","ALM","MUG-BLU","2x","14.50","2026-11-25","Please leave it\nwith the baker"\n'
        b'"K-2","Cancelled","Hal Ives","HW3 2","Hal Ives","3 Weir Steps","Hallowfen","HW3 2","ALM","CAN-ROS","1x","8.00","2026-11-25",""\n'
        b'"K-3","Shipped","Ina Jay","HW3 2","Ina Jay","4 Weir Steps","Hallowfen","HW3 2","ALM","CAN-ROS","1x","8.00","2026-11-24",""\n'
    ),
    columns={"order": "Order No.", "status": "Order Status", "buyer": "Delivery Name", "postcode": "Delivery Postcode"},
    orders=(
        _order("K-1", (11, 25), "Gil Ford", "2 Weir Steps, Back door", "Hallowfen", "HW3 2", "ALM",
               note="Please leave it with the baker", lines=(("MUG-BLU", 2, "14.50"),)),
        _order("K-2", (11, 25), "Hal Ives", "3 Weir Steps", "Hallowfen", "HW3 2", "ALM", standing="cancelled",
               lines=(("CAN-ROS", 1, "8.00"),)),
        _order("K-3", (11, 24), "Ina Jay", "4 Weir Steps", "Hallowfen", "HW3 2", "ALM", standing="sent",
               lines=(("CAN-ROS", 1, "8.00"),)),
    ),
)  # fmt: skip

_FRENCH = OrderFile(
    name="French words and months, spaces between thousands, several codes in one cell",
    content=(
        "Numéro de commande;Date de commande;Destinataire;Adresse;Code postal;Ville;Pays;Référence produit;Quantité;Prix unitaire\n"
        "F9;4 novembre 2026;Zoé Lemoine;12 rue du Bac;75007;Lisse;Allemagne;MUG-BLU|CAN-ROS;1|2;14,50|8,00\n"
        "F10;5 novembre 2026;Luc Petit;3 rue Haute;1000;Brume;Belgique;CAN-ROS;1;1 008,00\n"
    ).encode(),
    columns={"order": "Numéro de commande", "placed_on": "Date de commande", "sku": "Référence produit"},
    orders=(
        _order("F9", (11, 4), "Zoé Lemoine", "12 rue du Bac", "Lisse", "75007", "DE",
               lines=(("MUG-BLU", 1, "14.50"), ("CAN-ROS", 2, "8.00"))),
        _order("F10", (11, 5), "Luc Petit", "3 rue Haute", "Brume", "1000", "BE", lines=(("CAN-ROS", 1, "1008.00"),)),
    ),
)  # fmt: skip

_TITLES = OrderFile(
    name="no codes, only titles; two columns of one name; a country no list of names has",
    content=(
        b"order id,date,name,name,address,city,zip,country,product name,quantity,price\n"
        b"T1,2026-11-02,Kit Lane,gift for Jo,1 Ash Way,Merrowby,MB1 7,Almere Isles,Blue mug,1,14.50\n"
        b"T2,2026-11-03,Lou Moor,,2 Ash Way,Merrowby,MB1 7,Almere Isles,Rose candle,2,8.00\n"
    ),
    columns={"order": "order id", "buyer": "name", "title": "product name", "country": "country"},
    asked=("word:country",),
    answers={"words": {"country": {"Almere Isles": "ALM"}}},
    orders=(
        _order("T1", (11, 2), "Kit Lane", "1 Ash Way", "Merrowby", "MB1 7", "ALM", lines=(("MUG-BLU", 1, "14.50"),)),
        _order("T2", (11, 3), "Lou Moor", "2 Ash Way", "Merrowby", "MB1 7", "ALM", lines=(("CAN-ROS", 2, "8.00"),)),
    ),
)  # fmt: skip


#: A sheet's times have no zone.
_AT = datetime.fromisoformat("2026-11-26T10:30")


def _sheet() -> bytes:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.append(
        [
            "Order Number",
            "Order Date",
            "Recipient",
            "Street",
            "Postcode",
            "Town",
            "Country",
            "Item SKU",
            "Qty",
            "Price each",
            "Postage",
            "Gift",
        ]
    )
    sheet.append(
        [
            9001,
            _AT,
            "Mae North",
            "6 Fell Rd",
            "HW3 2",
            "Hallowfen",
            "ALM",
            "MUG-BLU",
            2,
            14.5,
            4.5,
            True,
        ]
    )
    sheet.append(
        [
            9001,
            _AT,
            "Mae North",
            "6 Fell Rd",
            "HW3 2",
            "Hallowfen",
            "ALM",
            "CAN-ROS",
            1,
            8,
            0,
            True,
        ]
    )
    sheet.append(
        [
            9002,
            date(2026, 11, 26),
            "Ned Orr",
            "7 Fell Rd",
            "HW3 2",
            "Hallowfen",
            "ALM",
            "CAN-ROS",
            1.0,
            7.999999999,
            3,
            False,
        ]
    )
    sheet.append([None, None, None, None, None, None, None, None, 4, 45, 7.5, None])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


_SHEET = OrderFile(
    name="a sheet with real days and numbers, and a line of sums",
    content=_sheet(),
    columns={"order": "Order Number", "sku": "Item SKU", "unit_price": "Price each", "gift": "Gift"},
    left_out=1,
    orders=(
        _order("9001", (11, 26), "Mae North", "6 Fell Rd", "Hallowfen", "HW3 2", "ALM", postage="4.50",
               lines=(("MUG-BLU", 2, "14.50"), ("CAN-ROS", 1, "8.00"))),
        _order("9002", (11, 26), "Ned Orr", "7 Fell Rd", "Hallowfen", "HW3 2", "ALM", postage="3.00",
               lines=(("CAN-ROS", 1, "8.00"),)),
    ),
)  # fmt: skip

_ALL = OrderFile(
    name="all of it at once",
    content=(
        "sep=;\n"
        "Verkauf November;;;;;;;;;;;;\n"
        "Auftragsnummer;Datum;Rechnung Name;Lieferung Name;Lieferung Adresse;PLZ;Stadt;Land;Artikel Nr;Artikel;Anzahl;Preis;Porto;Zahlungsstatus;Status\n"
        'Z-1;27.11.2026;Pay Er;Öhm Ärzt;"Hof 1\nHinterhaus";01067;Tal;ALM;MUG-BLU;Becher;2x;1.014,50 €;4,90 €;bezahlt;offen\n'
        ";;;;;;;;CAN-ROS;Kerze;1 Stk;8,00 €;;;\n"
        "Z-2;03.11.2026;Uwe Thal;Uwe Thal;Hof 2;01067;Tal;ALM;ROSE;Kerze;1;8,00 €;4,90 €;offen;storniert\n"
        "Summe;;;;;;;;;;4;1.030,50 €;9,80 €;;\n"
    ).encode("cp1252"),
    columns={"order": "Auftragsnummer", "buyer": "Lieferung Name", "sku": "Artikel Nr", "title": "Artikel"},
    left_out=1,
    orders=(
        _order("Z-1", (11, 27), "Öhm Ärzt", "Hof 1, Hinterhaus", "Tal", "01067", "ALM", postage="4.90",
               lines=(("MUG-BLU", 2, "1014.50"), ("CAN-ROS", 1, "8.00"))),
        _order("Z-2", (11, 3), "Uwe Thal", "Hof 2", "Tal", "01067", "ALM", postage="4.90", paid=False,
               standing="cancelled", lines=(("CAN-ROS", 1, "8.00"),)),
    ),
)  # fmt: skip

FILES: tuple[OrderFile, ...] = (
    _SEMICOLONS, _MONTH_FIRST, _UNCERTAIN, _ITEMS_IN_A_CELL, _BLANKS_BELOW, _QUOTED, _FRENCH, _TITLES, _SHEET, _ALL,
)  # fmt: skip
