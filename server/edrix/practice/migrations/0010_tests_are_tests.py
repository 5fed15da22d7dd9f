"""Tests are begun once, and their debriefs are held until an instructor opens them.

Those that were set before stay as they were: begun as often as wanted, debriefs open.
"""

from django.db import migrations, models
from django.db.models import F


def open_those_of_before(apps, _schema):
    tests = apps.get_model("practice", "PracticeEngine").objects.filter(level="test")
    tests.update(debriefs_at=F("made_at"))


class Migration(migrations.Migration):

    dependencies = [
        ('practice', '0009_shop_tolerance'),
    ]

    operations = [
        migrations.AddField(
            model_name='practiceengine',
            name='attempts',
            field=models.PositiveSmallIntegerField(null=True),
        ),
        migrations.AddField(
            model_name='practiceengine',
            name='debriefs_at',
            field=models.DateTimeField(null=True),
        ),
        migrations.RunPython(open_those_of_before, migrations.RunPython.noop),
    ]
