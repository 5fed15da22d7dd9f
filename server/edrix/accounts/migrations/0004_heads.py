"""A school has heads; where there was none, its first instructor is."""

from django.db import migrations, models


def first_head(apps, _editor):
    people = apps.get_model("accounts", "User").objects
    people.filter(may_teach=True).update(has_taught=True)
    first = people.filter(may_teach=True, is_active=True).order_by("id").first()
    if first is not None:
        people.filter(id=first.id).update(is_head=True)


class Migration(migrations.Migration):

    dependencies = [
        ('accounts', '0003_django_sessions'),
    ]

    operations = [
        migrations.AddField(
            model_name='user',
            name='has_taught',
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name='user',
            name='is_head',
            field=models.BooleanField(default=False),
        ),
        migrations.RunPython(first_head, migrations.RunPython.noop, elidable=True),
        migrations.AddConstraint(
            model_name='user',
            constraint=models.CheckConstraint(condition=models.Q(('is_head', False), ('may_teach', True), _connector='OR'), name='user_head_teaches'),
        ),
    ]
