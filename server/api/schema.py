"""Last touch on the OpenAPI description."""

from typing import Any

__all__ = ["messages_as_text", "plain_times", "plain_tuples"]


def plain_tuples(result: dict[str, Any], generator: Any, request: Any, public: bool) -> dict[str, Any]:
    """Describe tuples of one type as plain arrays: the front end's typed client handles those alone."""
    _walk(result)
    return result


def messages_as_text(result: dict[str, Any], generator: Any, request: Any, public: bool) -> dict[str, Any]:
    """Describe messages of the core as what leaves the API: text, written in the workshop's units."""
    schemas = result.get("components", {}).get("schemas", {})
    if "Message" in schemas:
        schemas["Message"] = {"type": "string", "description": "Words, in the workshop's units"}
    schemas.pop("Fact", None)
    return result


def plain_times(result: dict[str, Any], generator: Any, request: Any, public: bool) -> dict[str, Any]:
    """Describe times of day as what they are: of the workshop's own clock, without the zone "time" stands for."""
    _times(result)
    return result


def _times(node: Any) -> None:
    if isinstance(node, dict):
        if node.get("type") == "string" and node.get("format") == "time":
            del node["format"]
            node["pattern"] = r"^\d{2}:\d{2}(:\d{2})?$"
        for value in node.values():
            _times(value)
    elif isinstance(node, list):
        for value in node:
            _times(value)


def _walk(node: Any) -> None:
    if isinstance(node, dict):
        if "prefixItems" in node:
            node["items"] = node.pop("prefixItems")[0]
        for value in node.values():
            _walk(value)
    elif isinstance(node, list):
        for value in node:
            _walk(value)
