"""Text cells of CSV exports: nothing a spreadsheet would run (rules, 19)."""

__all__ = ["safe_cell"]


def safe_cell(text: str) -> str:
    """Return the text with a leading quote when it starts like a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text
