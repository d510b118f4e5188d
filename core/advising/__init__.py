"""What small change to an order's packing or sending pays, how many more would go for no more, and what a band
misses.
"""
