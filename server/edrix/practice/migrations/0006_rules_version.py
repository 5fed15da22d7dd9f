from django.db import migrations, models

FIRST_RULES = 'edrix-practice/1'


def tell_what_ended(apps, schema_editor):
    """Every run that ended gets its debrief by the rules that it was made under, for good.

    Where the core has other rules by now, those runs are shown as they were observed.
    """
    from valvetrain.engine_file import read_engine
    from valvetrain.practice import (
        PRACTICE_VERSION,
        PlantedFault,
        FaultKind,
        deal_setup,
        debrief,
        read_action,
        write_debrief,
    )

    if PRACTICE_VERSION != FIRST_RULES:
        return
    events = apps.get_model('practice', 'PracticeEvent').objects
    runs = apps.get_model('practice', 'PracticeRun').objects
    ended = runs.filter(ended_at__isnull=False).select_related('practice__engine_version')
    for run in ended.iterator():
        practice = run.practice
        setup = deal_setup(
            read_engine(practice.engine_version.document),
            run.seed,
            [PlantedFault(FaultKind(kind), valve) for kind, valve in practice.faults],
            box=practice.box,
            level=practice.level,
            stack_help=practice.stack_help,
            bridged=practice.bridged,
        )
        done = events.filter(run_id=run.id).order_by('step').values_list('action', flat=True)
        run.debrief = write_debrief(debrief(setup, [read_action(action) for action in done]))
        run.save(update_fields=['debrief'])


class Migration(migrations.Migration):

    dependencies = [
        ('practice', '0005_run_seed'),
        ('engines', '0001_initial'),
    ]

    operations = [
        migrations.AddField(
            model_name='practicerun',
            name='rules_version',
            field=models.CharField(default=FIRST_RULES, max_length=40),
            preserve_default=False,
        ),
        migrations.AddField(
            model_name='practicerun',
            name='debrief',
            field=models.JSONField(null=True),
        ),
        migrations.RunPython(tell_what_ended, migrations.RunPython.noop),
    ]
