"""What Django itself has to say of the settings and the models."""

from django.core.management import call_command


def test_django_finds_nothing_to_complain_of():
    call_command("check", fail_level="WARNING")


def test_every_change_of_a_model_has_its_migration(db):
    call_command("makemigrations", check=True, dry_run=True, verbosity=0)
