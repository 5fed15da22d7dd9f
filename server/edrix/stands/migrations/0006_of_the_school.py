"""Stands are things in the hall, used by several classes. Each that a class had becomes one of the
school that this class uses; one whose name another stand has, too, is told apart by its class."""

from decimal import Decimal

import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

MOST_NAME = 80


def into_the_hall(apps, _editor):
    Stand = apps.get_model("stands", "Stand")
    ClassStand = apps.get_model("stands", "ClassStand")
    taken = set()
    for stand in Stand.objects.select_related("teaching_class").order_by("id"):
        ClassStand.objects.create(teaching_class=stand.teaching_class, stand=stand)
        name = stand.name
        number = 1
        while name in taken:
            also = f" ({stand.teaching_class.name}{'' if number == 1 else f', {number}'})"
            name = stand.name[: max(1, MOST_NAME - len(also))] + also[:MOST_NAME - 1]
            number += 1
        taken.add(name)
        stand.created_by_id = stand.teaching_class.created_by_id
        stand.name = name
        stand.save(update_fields=["name", "created_by"])


class Migration(migrations.Migration):

    dependencies = [
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
        ("classes", "0002_put_away_and_left"),
        ("stands", "0005_closing_gaps"),
    ]

    operations = [
        migrations.AddField("stand", "place", models.CharField(blank=True, default="", max_length=80)),
        migrations.AddField("stand", "meter", models.CharField(choices=[("h", "Hours"), ("km", "Km")], default="h", max_length=2)),
        migrations.AddField("stand", "cool_h", models.DecimalField(decimal_places=1, default=Decimal(12), max_digits=5)),
        migrations.AddField("stand", "warm_until", models.DateTimeField(null=True)),
        migrations.AddField("stand", "out_of_order", models.CharField(blank=True, default="", max_length=200)),
        migrations.AddField("stand", "adjusted_at", models.DateTimeField(null=True)),
        migrations.AddField("stand", "adjusted_by", models.CharField(blank=True, default="", max_length=200)),
        migrations.AddField("stand", "created_by", models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name="+", to=settings.AUTH_USER_MODEL)),
        migrations.CreateModel(
            name="ClassStand",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("put_away_at", models.DateTimeField(null=True)),
                ("stand", models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="uses", to="stands.stand")),
                ("teaching_class", models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name="uses", to="classes.teachingclass")),
            ],
            options={"verbose_name": "stand"},
        ),
        migrations.AddConstraint("classstand", models.UniqueConstraint(fields=("teaching_class", "stand"), name="class_stand_once")),
        migrations.RemoveConstraint("stand", "stand_name_in_class"),
        migrations.RunPython(into_the_hall, migrations.RunPython.noop, elidable=True),
        migrations.RemoveField("stand", "teaching_class"),
        migrations.AddConstraint("stand", models.UniqueConstraint(fields=("name",), name="stand_name_in_school")),
        migrations.AddConstraint("stand", models.CheckConstraint(condition=models.Q(("cool_h__gte", 0)), name="stand_cool_not_negative")),
        migrations.AddConstraint("stand", models.CheckConstraint(condition=models.Q(("meter__in", ["h", "km"])), name="stand_meter_known")),
    ]
