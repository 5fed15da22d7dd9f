"""What skills signed off are called where they hang on something."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('progress', '0001_initial'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='signoff',
            options={'verbose_name_plural': 'skills signed off'},
        ),
    ]
