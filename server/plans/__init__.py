"""Plans of open orders: computed by the core from rows, kept until something they depend on changes."""
