"""How a product is packed for one, for two, for six: layers, bands, amounts; expanding a recipe for an order."""
