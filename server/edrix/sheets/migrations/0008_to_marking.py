from django.db import migrations


class Migration(migrations.Migration):
    """What became of a hand-in is the app `marking`'s, which has taken the tables over."""

    dependencies = [
        ('sheets', '0007_answers'),
        ('marking', '0001_initial'),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.DeleteModel(name=name)
                for name in ('Rubric', 'Marking', 'Decision', 'Answer')
            ],
        ),
    ]
