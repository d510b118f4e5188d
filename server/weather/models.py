"""Forecasts as they were last heard, and whether anybody was heard at all."""

from django.db import models

from server.workshops.models import WorkshopOwned

__all__ = ["ForecastDay", "Heard"]


class ForecastDay(WorkshopOwned):
    """One day at one place, as it was last foretold."""

    place = models.CharField(max_length=40, help_text="core.care.road.place_key, or a carrier's hub")
    day = models.DateField()
    low_c = models.DecimalField(max_digits=4, decimal_places=1)
    high_c = models.DecimalField(max_digits=4, decimal_places=1)
    heard_at = models.DateTimeField()

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["workshop", "place", "day"], name="forecast_day_once")]
        indexes = [models.Index(fields=["workshop", "day"])]

    def __str__(self) -> str:
        return f"{self.place} {self.day}: {self.low_c} to {self.high_c}"


class Heard(WorkshopOwned):
    """When the forecast was last asked for and last heard."""

    asked_at = models.DateTimeField()
    heard_at = models.DateTimeField(null=True)
    trouble = models.CharField(max_length=120, blank=True, help_text="Why nothing was heard the last time")

    class Meta(WorkshopOwned.Meta):
        abstract = False
        constraints = [models.UniqueConstraint(fields=["workshop"], name="heard_once_a_workshop")]

    def __str__(self) -> str:
        return f"heard {self.heard_at}"
