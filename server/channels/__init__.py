"""Sales channels that deliver orders themselves, and other programs that send orders and fetch tracking numbers."""
