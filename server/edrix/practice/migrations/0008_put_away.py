"""Practice engines are put away and brought back."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('practice', '0007_faults_moved'),
    ]

    operations = [
        migrations.AlterModelOptions(
            name='practiceengine',
            options={'verbose_name_plural': 'practice engines'},
        ),
        migrations.AlterModelOptions(
            name='practicerun',
            options={'verbose_name_plural': 'runs'},
        ),
        migrations.AddField(
            model_name='practiceengine',
            name='put_away_at',
            field=models.DateTimeField(null=True),
        ),
    ]
