"""What each order came to, what buyers pay for postage, and what a change would have done to our own orders."""
