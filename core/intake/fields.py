"""What an order is made of, and what other programs call it (intake; step 4 of the work).

The one list of fields an unknown file's columns are matched to. The names are general words for each thing, in the
languages shop programs are used in; a name is compared lower case, without accents, words apart. Pure.
"""

import re
import unicodedata
from dataclasses import dataclass
from typing import Literal, get_args

__all__ = ["FIELDS", "REPEATED", "Field", "FieldRule", "Kind", "in_full", "plain_words"]

Field = Literal[
    "order", "placed_on", "buyer", "first_name", "last_name", "company", "address", "address2", "town", "region",
    "postcode", "country", "sku", "title", "quantity", "unit_price", "line_total", "items", "goods_total",
    "postage_charged", "paid", "risk", "status", "gift", "note", "channel",
]  # fmt: skip
#: How a value is read, and so what may stand in a column.
Kind = Literal["text", "number_text", "day", "amount", "count", "place", "postcode", "yes_no", "items"]


@dataclass(frozen=True, slots=True, kw_only=True)
class FieldRule:
    """One field: how its values are read and what it is called elsewhere."""

    kind: Kind
    names: tuple[str, ...]  #: plain words, the likeliest first
    of_order: bool = True  #: the same on every line of one order


_NUMBER = frozenset(("no", "nr", "num", "nbr"))


def in_full(words: str) -> str:
    """Return plain words with short ones written out, one space between two.

    >>> in_full("sale no")
    'sale number'
    """
    return " ".join("number" if word in _NUMBER else word for word in words.split())


def _rule(kind: Kind, names: str, *, of_order: bool = True) -> FieldRule:
    return FieldRule(kind=kind, names=tuple(in_full(one) for one in names.split(",")), of_order=of_order)


FIELDS: dict[Field, FieldRule] = {
    "order": _rule(
        "number_text",
        """order, order number, order id, order ref, order reference, sale number, sale id, reference,
        invoice number, receipt, receipt number, bestellnummer, bestellung, bestell nr, auftragsnummer,
        numero de commande, commande, numero de pedido, pedido, numero ordine, ordine, bestelnummer""",
    ),
    "placed_on": _rule(
        "day",
        """placed on, order date, date, placed, sale date, ordered on, created, created at, date of order, purchase
        date, bestelldatum, datum, date de commande, fecha, fecha de pedido, data ordine, besteldatum""",
    ),
    "buyer": _rule(
        "text",
        """buyer, recipient, delivery name, shipping name, ship to name, ship to, deliver to, customer, customer
        name, full name, name, buyer name, empfanger, kunde, destinataire, client, destinatario, cliente,
        ontvanger, klant""",
    ),
    "first_name": _rule("text", "first name, given name, forename, vorname, prenom, nombre, nome, voornaam"),
    "last_name": _rule(
        "text",
        """last name, surname, family name, nachname, nom, apellido, apellidos, cognome, achternaam""",
    ),
    "company": _rule("text", "company, company name, business, firma, societe, empresa, bedrijf"),
    "address": _rule(
        "text",
        """address, address 1, address line 1, street, street address, street 1, strasse, adresse, adresse 1, rue,
        direccion, indirizzo, straat, adres""",
    ),
    "address2": _rule(
        "text",
        """address 2, address line 2, street 2, apartment, flat, unit, adresszusatz, adresse 2, complement,
        direccion 2, indirizzo 2""",
    ),
    "town": _rule("text", "town, city, town city, locality, place, ort, stadt, ville, ciudad, citta, plaats"),
    "region": _rule(
        "text",
        """region, state, province, county, state province, bundesland, provincia, provincie, departement""",
    ),
    "postcode": _rule(
        "postcode",
        """postcode, post code, postal code, zip, zip code, zipcode, plz, postleitzahl, code postal, codigo postal,
        cap""",
    ),
    "country": _rule("place", "country, country code, land, pays, pais, paese, lander"),
    "sku": _rule(
        "text",
        """sku, item sku, product code, item code, article number, item number, product sku, artikelnummer, artikel
        nr, reference produit, referencia, codice""",
        of_order=False,
    ),
    "title": _rule(
        "text",
        """title, item, item name, product, product name, item title, description, article, artikel, bezeichnung,
        produit, producto, prodotto, product title""",
        of_order=False,
    ),
    "quantity": _rule(
        "count",
        """quantity, qty, item quantity, units, pieces, number of items, count, menge, anzahl, stuck, quantite,
        cantidad, quantita, aantal""",
        of_order=False,
    ),
    "unit_price": _rule(
        "amount",
        """unit price, price, item price, price each, each, einzelpreis, preis, stuckpreis, prix unitaire, prix,
        precio, precio unitario, prezzo, stuksprijs, prijs""",
        of_order=False,
    ),
    "line_total": _rule(
        "amount",
        """line total, item total, row total, amount, gesamtpreis, positionssumme, total ligne, importe""",
        of_order=False,
    ),
    "items": _rule(
        "items",
        """items, products, contents, order items, line items, ordered items, artikel liste, articles, articulos,
        basket, positionen""",
        of_order=False,
    ),
    "goods_total": _rule(
        "amount",
        """goods total, subtotal, sub total, goods value, items total, order value, warenwert, zwischensumme, sous
        total""",
    ),
    "postage_charged": _rule(
        "amount",
        """postage charged, postage, shipping, shipping charge, shipping cost, delivery charge, delivery cost,
        delivery fee, shipping price, versand, versandkosten, porto, frais de port, livraison, gastos de envio,
        spedizione, verzendkosten""",
    ),
    "paid": _rule(
        "yes_no",
        """paid, payment status, payment, financial status, date paid, paid on, paid at, bezahlt, zahlungsstatus,
        paye, pagado, betaald""",
    ),
    "risk": _rule(
        "text",
        "payment risk, risk, risk level, order risk, fraud risk, fraud level, risk rating, zahlungsrisiko, risiko",
    ),
    "status": _rule(
        "text",
        """status, state, order status, fulfilment status, fulfillment status, delivery status, bestellstatus, statut,
        estado, stato""",
    ),
    "gift": _rule("yes_no", "gift, is gift, gift wrap, geschenk, cadeau, regalo"),
    "note": _rule(
        "text",
        """note, notes, buyer note, customer note, message, comment, comments, delivery note, delivery instructions,
        gift message, notiz, bemerkung, nachricht, kommentar, remarque, nota, opmerking""",
    ),
    "channel": _rule("text", "channel, sales channel, shop, source, marketplace, kanal, tienda"),
}

#: Fields that several columns may make together, joined with a space.
REPEATED: frozenset[Field] = frozenset({"buyer", "address", "address2", "title", "note"})

if set(FIELDS) != set(get_args(Field)):  # pragma: no cover - seen at once by whoever adds a field
    raise TypeError("FIELDS and Field name different fields")

_CAMEL = re.compile(r"(?<=[a-z])(?=[A-Z])|(?<=[A-Za-z])(?=\d)|(?<=\d)(?=[A-Za-z])")
_ELSE = re.compile(r"[^a-z0-9]+")


def plain_words(name: str) -> str:
    """Return a column's name as it is compared.

    >>> plain_words("ShippingAddress1"), plain_words("Stückpreis (EUR)"), plain_words("order_no.")
    ('shipping address 1', 'stuckpreis eur', 'order no')
    """
    bare = unicodedata.normalize("NFKD", _CAMEL.sub(" ", name).replace("ß", "ss"))
    letters = "".join(ch for ch in bare if not unicodedata.combining(ch))
    return _ELSE.sub(" ", letters.lower()).strip()
