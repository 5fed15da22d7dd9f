"""What safety records are called where they hang on something."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('safety', '0001_initial'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='opening',
            options={'verbose_name_plural': 'safety records'},
        ),
    ]
