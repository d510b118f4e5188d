"""The search's inner loops, compiled by numba; only ``search``, ``equal`` and ``cheapest`` call in here (packing)."""
