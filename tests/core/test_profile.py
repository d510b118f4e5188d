"""The profile of the compiled loops names functions and counts addresses (bench/packing/profile)."""

import unittest

from bench.packing.profile import plain, told


class Profile(unittest.TestCase):
    def test_functions_are_called_as_they_are_written(self) -> None:
        mangled = "_ZN4core7packing6kernel6places17put_in_best_placeB4v132B54c8tJTIeFIjxB2IKSgI4CrvSCKg1M"
        self.assertEqual(plain(mangled), "places.put_in_best_place")
        self.assertEqual(plain("_ZN5numba2np8arrayobj9np_unique"), "_ZN5numba2np8arrayobj9np_unique")

    def test_addresses_are_counted_where_they_lie(self) -> None:
        names = [(100, 50, "a: one"), (150, 10, "a: two")]
        words = told([100, 149, 150, 159, 160, 99, 120, 1_000], names)
        self.assertEqual(words.splitlines(), [" 37.5 %  a: one", " 37.5 %  Python and the rest", " 25.0 %  a: two"])


if __name__ == "__main__":
    unittest.main()
