"""What a hand-in left out as a whole. Those of before were marked as if everything was asked, and
keep their marks."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("sheets", "0008_to_marking")]

    operations = [
        migrations.AddField(
            model_name="handin",
            name="not_asked",
            field=models.JSONField(default=list),
        ),
    ]
