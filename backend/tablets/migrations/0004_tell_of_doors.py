"""A board shows the code of its lesson's door, so it is told when the door opens and shuts."""

from django.db import migrations

TELL = """
CREATE FUNCTION girder_tell_of_door() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('girder', (CASE WHEN TG_OP = 'DELETE' THEN OLD.run_id ELSE NEW.run_id END)::text);
    RETURN NULL;
END $$;
CREATE TRIGGER tell AFTER INSERT OR UPDATE OR DELETE ON tablets_door
    FOR EACH ROW EXECUTE FUNCTION girder_tell_of_door();
"""
SILENT = "DROP FUNCTION girder_tell_of_door() CASCADE;"


class Migration(migrations.Migration):
    dependencies = [("tablets", "0003_teams_may"), ("live", "0002_tell")]

    operations = [migrations.RunSQL(TELL, SILENT)]
