"""Every hand-in keeps the key it was marked by; those before had their sheet's."""

import django.db.models.deletion
from django.db import migrations, models
from django.db.models import F, OuterRef, Subquery


def from_sheet(apps, schema_editor):
    hand_ins = apps.get_model("sheets", "HandIn")
    sheets = apps.get_model("sheets", "Sheet").objects.filter(id=OuterRef("sheet_id"))
    hand_ins.objects.update(key_id=Subquery(sheets.annotate(of=F("key_id")).values("of")[:1]))


class Migration(migrations.Migration):
    # Its rows are changed and then its column: PostgreSQL wants these apart.
    atomic = False

    dependencies = [("stands", "0003_passes"), ("sheets", "0005_rubrics")]

    operations = [
        migrations.AddField(
            "handin",
            "key",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.PROTECT,
                related_name="+",
                to="stands.key",
            ),
        ),
        migrations.RunPython(from_sheet, migrations.RunPython.noop),
        migrations.AlterField(
            "handin",
            "key",
            models.ForeignKey(
                on_delete=django.db.models.deletion.PROTECT, related_name="+", to="stands.key"
            ),
        ),
    ]
