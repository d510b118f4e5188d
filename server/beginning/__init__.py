"""Beginning: setting up a workshop of one's own, the sample workshop, a shelf to start from, the first parcel."""
