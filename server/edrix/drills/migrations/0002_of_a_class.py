"""A drill belongs to a class: of who is in one class only, to that."""

import django.db.models.deletion
from django.db import migrations, models


def of_the_only_class(apps, _editor):
    members = apps.get_model("classes", "Membership").objects.filter(role="student")
    of_person = {}
    for person, teaching_class in members.values_list("user_id", "teaching_class_id"):
        of_person.setdefault(person, set()).add(teaching_class)
    drills = apps.get_model("drills", "Drill").objects.filter(held="alone")
    for person, known in of_person.items():
        if len(known) == 1:
            drills.filter(person_id=person).update(teaching_class_id=known.pop())


class Migration(migrations.Migration):

    dependencies = [
        ('classes', '0002_put_away_and_left'),
        ('drills', '0001_initial'),
    ]

    operations = [
        migrations.AddField(
            model_name='drill',
            name='teaching_class',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='drills', to='classes.teachingclass'),
        ),
        migrations.RunPython(of_the_only_class, migrations.RunPython.noop, elidable=True),
    ]
