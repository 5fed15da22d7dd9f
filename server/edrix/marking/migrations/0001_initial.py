import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models

ID = models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')
MOVED = ('Rubric', 'Marking', 'Decision', 'Answer')


class Migration(migrations.Migration):
    """Four tables move here from `sheets`, rows and all: they are renamed, nothing is copied."""

    initial = True

    dependencies = [
        ('sheets', '0007_answers'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.SeparateDatabaseAndState(
            state_operations=[
                migrations.CreateModel(
                    name='Rubric',
                    fields=[
                        ('id', ID.clone()),
                        ('number', models.PositiveIntegerField()),
                        ('document', models.JSONField()),
                        ('made_at', models.DateTimeField(auto_now_add=True)),
                        ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                        ('sheet', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='rubrics', to='sheets.sheet')),
                    ],
                    options={
                        'db_table': 'sheets_rubric',
                        'constraints': [models.UniqueConstraint(fields=('sheet', 'number'), name='rubric_number_unique')],
                    },
                ),
                migrations.CreateModel(
                    name='Marking',
                    fields=[
                        ('id', ID.clone()),
                        ('rules_version', models.CharField(max_length=40)),
                        ('points', models.PositiveIntegerField()),
                        ('out_of', models.PositiveIntegerField()),
                        ('valves', models.JSONField()),
                        ('made_at', models.DateTimeField(auto_now_add=True)),
                        ('hand_in', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='markings', to='sheets.handin')),
                    ],
                    options={'db_table': 'sheets_marking'},
                ),
                migrations.CreateModel(
                    name='Decision',
                    fields=[
                        ('id', ID.clone()),
                        ('valve', models.PositiveIntegerField()),
                        ('part', models.CharField(max_length=8)),
                        ('right', models.BooleanField()),
                        ('reason', models.CharField(max_length=300)),
                        ('made_at', models.DateTimeField(auto_now_add=True)),
                        ('hand_in', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='decisions', to='sheets.handin')),
                        ('made_by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                    ],
                    options={
                        'db_table': 'sheets_decision',
                        'constraints': [
                            models.CheckConstraint(condition=models.Q(('part__in', ['reading', 'verdict', 'position', 'adjusted', 'shim'])), name='decision_part_known'),
                            models.CheckConstraint(condition=models.Q(('reason', ''), _negated=True), name='decision_has_a_reason'),
                        ],
                    },
                ),
                migrations.CreateModel(
                    name='Answer',
                    fields=[
                        ('id', ID.clone()),
                        ('valve', models.PositiveIntegerField()),
                        ('part', models.CharField(max_length=8)),
                        ('text', models.CharField(max_length=400)),
                        ('made_at', models.DateTimeField(auto_now_add=True)),
                        ('hand_in', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='answers', to='sheets.handin')),
                    ],
                    options={
                        'db_table': 'sheets_answer',
                        'constraints': [
                            models.UniqueConstraint(fields=('hand_in', 'valve', 'part'), name='answer_once'),
                            models.CheckConstraint(condition=models.Q(('text', ''), _negated=True), name='answer_has_a_text'),
                        ],
                    },
                ),
            ],
        ),
        *[migrations.AlterModelTable(name=name, table=None) for name in MOVED],
        # Which parts there are is for the core to say; a new one should need no migration.
        migrations.RemoveConstraint(model_name='decision', name='decision_part_known'),
        migrations.AlterField(model_name='decision', name='part', field=models.CharField(max_length=20)),
        migrations.AlterField(model_name='answer', name='part', field=models.CharField(max_length=20)),
    ]
