"""Rotas: what is to be planned, and the bookings that came of it."""

from typing import ClassVar

from django.conf import settings
from django.db import models


class Rota(models.Model):
    teaching_class = models.ForeignKey(
        "classes.TeachingClass", models.CASCADE, related_name="rotas"
    )
    title = models.CharField(max_length=120)
    wish = models.JSONField(default=dict)
    """Slots, places, tasks and who is away, as wish.py reads it."""
    revision = models.PositiveIntegerField(default=1)
    """Moves on with every change, so that two who change it at once notice."""
    posted_at = models.DateTimeField(null=True)
    """Since when its students see it; null while it is being planned."""
    bound = models.PositiveIntegerField(null=True)
    """No plan of what was asked costs less: it proves how many places must be missing."""
    bound_of = models.CharField(max_length=64, default="")
    """What that was proved of: the digest of the problem as it was asked."""
    before = models.JSONField(null=True)
    """The bookings before the last plan was kept, for the way back."""
    created_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(auto_now=True)
    put_away_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return self.title


class RotaBooking(models.Model):
    """One group at one place on one task in one slot; slot, place and task are keys of the wish."""

    rota = models.ForeignKey(Rota, models.CASCADE, related_name="bookings")
    slot = models.CharField(max_length=20)
    place = models.CharField(max_length=40)
    task = models.CharField(max_length=40)
    stand = models.ForeignKey(
        "stands.Stand", models.SET_NULL, related_name="rota_bookings", null=True
    )
    starts_at = models.DateTimeField()
    ends_at = models.DateTimeField()
    runs_engine = models.BooleanField(default=False)
    pinned = models.BooleanField(default=False)
    """Stays as it is when it is planned anew."""

    class Meta:
        verbose_name = "booking"
        indexes: ClassVar = [
            models.Index(fields=["stand", "starts_at"], name="rota_bookings_of_stand")
        ]

    def __str__(self) -> str:
        return f"{self.slot} {self.place}"


class RotaSeat(models.Model):
    booking = models.ForeignKey(RotaBooking, models.CASCADE, related_name="seats")
    student = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="rota_seats")

    class Meta:
        verbose_name = "place in a rota"
        verbose_name_plural = "places in a rota"
        constraints: ClassVar = [
            models.UniqueConstraint(fields=["booking", "student"], name="rota_seat_once"),
        ]

    def __str__(self) -> str:
        return f"{self.student_id} in booking {self.booking_id}"


class CalendarFeed(models.Model):
    """The secret address of one person's calendar; only its digest is kept."""

    person = models.OneToOneField(
        settings.AUTH_USER_MODEL, models.CASCADE, related_name="calendar_feed"
    )
    digest = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"feed of {self.person_id}"
