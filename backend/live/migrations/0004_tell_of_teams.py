"""What a team sends from its tablet, and the teacher's nod to it, are told like all else."""

from django.db import migrations

WATCHED = {"designs_teamreading": "INSERT OR UPDATE", "designs_photo": "UPDATE"}
TELL = "".join(
    f"CREATE TRIGGER tell_{table} AFTER {when} ON {table} FOR EACH ROW EXECUTE FUNCTION girder_tell();"
    for table, when in WATCHED.items()
)
SILENT = "".join(f"DROP TRIGGER tell_{table} ON {table};" for table in WATCHED)


class Migration(migrations.Migration):
    dependencies = [("live", "0003_motion"), ("designs", "0006_what_teams_send")]

    operations = [migrations.RunSQL(TELL, SILENT)]
