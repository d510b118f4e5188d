"""Templates: prices, limits and refusals of carriers. See ``server.words.render`` for what may stand in braces."""

__all__ = ["TARIFFS"]

TARIFFS: dict[str, str] = {
    "after_each_other": "{texts:after}",
    "list": "{items}",
    "several_limits": "{limits:after}",
    "over_length": "{service:of carrier}: takes {what} up to {limit_um:vs value_um}; this parcel has {value_um:vs "
    "limit_um}, {over_um:over} over.",
    "over_volume": "{service:of carrier}: takes up to {limit_cm3}; this parcel has {value_cm3}, {over_cm3} over.",
    "over_weight": "{service:of carrier}: takes up to {limit_mg:vs value_mg}; this parcel is {value_mg:vs limit_mg}, "
    "{over_mg:over} over.",
    "under_weight": "{service:of carrier}: starts at {limit_mg:vs value_mg}; this parcel is {value_mg:vs limit_mg}, "
    "{short_mg:over} short.",
    "limit_longest_side": "longest side",
    "limit_second_side": "second side",
    "limit_thickness": "thickness",
    "limit_girth": "girth",
    "limit_length_plus_girth": "length plus girth",
    "packaging_elsewhere": "{service:of carrier}: does not take {container}; {name} may go with {services:or} only.",
    "packaging_not_taken": "{service:of carrier}: does not take {name}.",
    "no_flat_price": "{carrier}: {name} has no price for zone {zone}.",
    "goods_refused": "{service:of carrier}: does not take {goods:or} goods; there are some in this parcel.",
    "goods_food": "food",
    "goods_perishable": "perishable",
    "goods_live": "live",
    "goods_frozen": "frozen",
    "goods_melts": "melting",
    "goods_glass": "glass",
    "goods_fragile": "fragile",
    "goods_restricted": "restricted",
    "no_zone": "{service:of carrier}: no zone of its list covers {place}, so it does not go there.",
    "no_zone_of_any": "No price list covers {place}, so none of these go there: {services}.",
    "place_in_zone": "{carrier}: zone {zone}.",
    "place_remote": "{carrier}: zone {zone}, a remote place for which it asks more ({names}).",
    "place_not_reached": "{carrier} does not go there.",
    "postcode_missing": "The postcode is missing; price lists tell places of {country} apart by it.",
    "postcode_unlike": "{postcode} looks unlike the postcodes of {country}, such as {example}…",
    "zone_without_prices": "{service:of carrier}: {place} is in zone {zone}, for which this service has no prices.",
    "no_step": "{service:of carrier}: has prices up to {limit_mg:vs value_mg} in zone {zone}; this parcel counts "
    "as {value_mg:vs limit_mg}, {over_mg:over} over.",
    "not_by_your_rules": "{service} would take it for {price_money}, but your rules do not use it.",
    "too_long": "{service} takes {days} {days:day|days}; the longest these goods may be in transit is {limit} "
    "{limit:day|days}.",
    "too_late": "{service} arrives {arrives_on}; it must arrive by {by_on}.",
    "no_service": "{refusals:after}",
    "list_not_begun": "{service:of carrier}: its first list, {version}, is valid from {from_on}; the parcel leaves on "
    "{ship_on}.",
    "no_current_list": "There is no current price list on the ship date; import one.",
    "by_weight": "by weight",
    "by_size": "by size: {sides_size_um} / {divisor_per_kg}",
    "flat_rate": "flat rate",
    "one_price": "one price up to {up_to_mg}",
    "base_price": "Base, zone {zone}",
    "named_price": "{name}, zone {zone}",
    "step_by_weight": "up to {step_mg}, billable {billable_mg}",
    "step_by_size": "up to {step_mg}, billable {billable_mg} {why}",
    "step_of_increments": "up to {step_mg}, billable {billable_mg} {why}; {base_money} up to {first_mg} and {times} x "
    "{each_money}",
    "percent_of": "{percent_percent} % of {of_money}",
    "tax": "Tax",
    "cover_to": "Cover to {covered_money}",
    "cover_rule": "{steps} x {price_money} above {included_money}",
    "cover_excluded": "{service} does not cover {goods:or} goods.",
    "covers_up_to": "{service} covers up to {most_money}; {asked_money} was asked for.",
    "all_of": "{conditions:semicolons}",
    "always": "always",
    "length_above": "{what} above {limit_um}",
    "volume_above": "volume above {limit_cm3}",
    "weight_above": "weight above {limit_mg}",
    "does_not_bend": "does not bend",
    "as_format": "as {formats:or}",
    "to_a_home": "to a home",
    "signed_for": "signed for",
    "with_goods": "goods: {goods}",
    "to_places": "to {country} {prefixes}",
    "in_zones": "zone {zones}",
    "so_heavy": "{weight_mg}",
    "so_long": "{length_um}",
    "so_large": "{volume_cm3}",
    "country_not_whole": "Places in {country} that no zone rule names are not served: there is no rule for the whole "
    "country.",
    "zone_unused": "Zone {zone} has no prices in any service.",
    "zones_without_prices": "{service} has no prices for zone {zones}: it does not go there.",
    "price_falls": "{called}, zone {zone}: the price falls from {before_money} to {after_money} above {above_mg}; a "
    "heavier parcel costs less.",
    "weight_without_price": "{called}, zone {zone}: gap, the limit is {limit_mg} but prices end at {top_mg}.",
    "larger_format_cheaper": "{service}, zone {zone}: {large} costs less than {small} at {at_mg}, "
    "{large_money} against "
    "{small_money}.",
    "mixed_currencies": "The price list of {carrier} is in {currency}, that of {other} in "
    "{other_currency}: their prices "
    "cannot be compared. Quote them apart.",
}
