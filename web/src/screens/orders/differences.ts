/** What can be different when an order comes again, in words. */
export const PART_WORDS: Record<string, string> = {
  goods: "Units of",
  buyer: "Buyer",
  address: "Address",
  postcode: "Postcode",
  country: "Country",
  note: "Note",
  paid: "Paid",
  gift: "Gift",
  postage_charged: "Postage charged",
};
