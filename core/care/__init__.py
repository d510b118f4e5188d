"""Heat, cold and time on the road: what a parcel meets, what keeps its goods within their limits, when not to send."""
