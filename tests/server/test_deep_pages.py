"""Pages far into a list hold the same rows, in the same order, as when all before them are read."""

from unittest import mock

from tests.server.base import DemoCase

_LISTS = (
    "orders", "orders?state=planned", "orders?find=e", "parcels?state=closed", "supplies", "products", "recipes",
    "arrivals?show=all", "readiness", "send-off", "holds", "tariffs", "find?q=e",
)  # fmt: skip


class DeepPages(DemoCase):
    def pages(self, path: str) -> list[object]:
        joined = f"{path}{'&' if '?' in path else '?'}page_size=3"
        first = self.ask("get", joined)
        if not isinstance(first, dict) or "pages" not in first:
            return []
        return [self.ask("get", f"{joined}&page={page}") for page in range(1, first["pages"] + 2)]

    def test_every_page_is_the_same_whichever_way_it_is_read(self) -> None:
        for number in ("1160", "1161", "1162", "1163", "1164"):
            self.sent(number)
        deep = 0
        for path in _LISTS:
            with self.subTest(path):
                plain = self.pages(path)
                with mock.patch("server.api.paging._DEEP", 1):
                    self.assertEqual(self.pages(path), plain)
                deep += len(plain) > 3
        self.assertGreater(deep, 4, "hardly a list is long enough to say anything")
