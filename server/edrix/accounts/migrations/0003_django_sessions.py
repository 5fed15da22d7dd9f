from django.db import migrations


def make_table(apps, schema_editor):
    """Where an earlier Edrix kept sessions in a table of its own, it had dropped Django's."""
    session = apps.get_model('sessions', 'Session')
    with schema_editor.connection.cursor() as cursor:
        tables = schema_editor.connection.introspection.table_names(cursor)
    if session._meta.db_table not in tables:
        schema_editor.create_model(session)


class Migration(migrations.Migration):
    """Sessions are Django's own again: everybody signs in once more."""

    dependencies = [
        ('accounts', '0002_session'),
        ('sessions', '0001_initial'),
    ]

    operations = [
        migrations.DeleteModel(name='Session'),
        migrations.RunPython(make_table, migrations.RunPython.noop),
    ]
