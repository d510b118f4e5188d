"""What a parcel is made with: containers, wraps, fills, closures, inserts; and sums over the stock ledger."""
