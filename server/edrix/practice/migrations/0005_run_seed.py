from django.db import migrations, models

WHAT_IT_WAS = """
UPDATE practice_practicerun AS run
SET seed = engine.seed + (run.attempt - 1) * 104729
    + CASE WHEN engine.same_for_all THEN 0 ELSE run.student_id * 7919 END
FROM practice_practiceengine AS engine
WHERE engine.id = run.practice_id
"""


class Migration(migrations.Migration):
    dependencies = [
        ("practice", "0004_event_index"),
    ]

    operations = [
        migrations.AddField("practicerun", "seed", models.PositiveBigIntegerField(null=True)),
        migrations.RunSQL(WHAT_IT_WAS, migrations.RunSQL.noop),
        # Rows that were just changed wait for checks, which a change of the table would not await.
        migrations.RunSQL("SET CONSTRAINTS ALL IMMEDIATE", migrations.RunSQL.noop),
        migrations.AlterField("practicerun", "seed", models.PositiveBigIntegerField()),
    ]
