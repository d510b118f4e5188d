"""The plans listen to what happens in the rooms they rest on."""

from importlib import import_module

from django.apps import AppConfig

__all__ = ["PlansConfig"]


class PlansConfig(AppConfig):
    """Connects the listeners when all rooms are there."""

    name = "server.plans"

    def ready(self) -> None:
        """Connect them: the module needs the tables, which are there only now."""
        import_module("server.plans.listening")
