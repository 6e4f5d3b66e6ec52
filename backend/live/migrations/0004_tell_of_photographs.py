"""The database tells of photographs, drafts, answers and names too: boards and open pages show them."""

from django.db import migrations

TELL = """
CREATE FUNCTION girder_tell_of_design() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    changed bigint;
    design bigint;
BEGIN
    design := CASE WHEN TG_OP = 'DELETE' THEN OLD.design_id ELSE NEW.design_id END;
    SELECT run_id INTO changed FROM bench_design WHERE id = design;
    IF changed IS NOT NULL THEN
        PERFORM pg_notify('girder', changed::text);
    END IF;
    RETURN NULL;
END $$;
CREATE TRIGGER tell_photo AFTER INSERT OR DELETE ON bench_photo
    FOR EACH ROW EXECUTE FUNCTION girder_tell_of_design();
CREATE TRIGGER tell_draft AFTER INSERT ON bench_draft
    FOR EACH ROW EXECUTE FUNCTION girder_tell_of_design();
CREATE TRIGGER tell_answer AFTER INSERT OR UPDATE ON bench_reflection
    FOR EACH ROW EXECUTE FUNCTION girder_tell_of_design();
CREATE FUNCTION girder_tell_of_team() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('girder', run_id::text) FROM bench_design WHERE team_id = NEW.id;
    RETURN NULL;
END $$;
CREATE TRIGGER tell_team AFTER UPDATE ON people_team FOR EACH ROW EXECUTE FUNCTION girder_tell_of_team();
"""
SILENT = "DROP FUNCTION girder_tell_of_design() CASCADE; DROP FUNCTION girder_tell_of_team() CASCADE;"


class Migration(migrations.Migration):
    dependencies = [
        ("live", "0003_photographs"),
        ("bench", "0009_alter_ledgerevent_kind"),
    ]

    operations = [migrations.RunSQL(TELL, SILENT)]
