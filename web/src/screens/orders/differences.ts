import type { Schemas } from "../../api/client";

/** What can be different when an order comes again, in words. */
export const PART_WORDS: Record<Schemas["DifferenceOut"]["part"], string> = {
  goods: "Units of",
  cancelled: "Cancelled",
  buyer: "Buyer",
  address: "Address",
  postcode: "Postcode",
  country: "Country",
  note: "Note",
  paid: "Paid",
  gift: "Gift",
  postage_charged: "Postage charged",
};
