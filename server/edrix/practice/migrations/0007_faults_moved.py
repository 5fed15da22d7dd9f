"""A second attempt at a test has its faults elsewhere. Those that were begun keep theirs."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("practice", "0006_rules_version")]

    operations = [
        migrations.AddField(
            model_name="practicerun",
            name="faults_moved",
            field=models.BooleanField(default=False),
        ),
    ]
