"""The cupboard: supplies on their shelves and the stock ledger."""
