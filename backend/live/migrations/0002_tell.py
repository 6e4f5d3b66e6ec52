"""The database tells of every change that a board or an open page shows, by whichever process it was written."""

from django.db import migrations

TELL = """
CREATE FUNCTION girder_tell() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    gone boolean := TG_OP = 'DELETE';
    changed bigint;
BEGIN
    IF TG_TABLE_NAME = 'challenges_run' THEN
        changed := NEW.id;
    ELSIF TG_TABLE_NAME = 'live_board' THEN
        changed := CASE WHEN gone THEN OLD.run_id ELSE NEW.run_id END;
    ELSIF TG_TABLE_NAME = 'designs_design' THEN
        changed := NEW.run_id;
    ELSIF TG_TABLE_NAME = 'bench_ledgerevent' THEN
        SELECT d.run_id INTO changed FROM bench_trial t JOIN designs_design d ON d.id = t.design_id
        WHERE t.id = NEW.trial_id;
    ELSIF gone THEN
        SELECT run_id INTO changed FROM designs_design WHERE id = OLD.design_id;
    ELSE
        SELECT run_id INTO changed FROM designs_design WHERE id = NEW.design_id;
    END IF;
    IF changed IS NOT NULL THEN
        PERFORM pg_notify('girder', changed::text);
    END IF;
    RETURN NULL;
END $$;
CREATE FUNCTION girder_tell_of_team() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('girder', run_id::text) FROM designs_design WHERE team_id = NEW.id;
    RETURN NULL;
END $$;
"""
WATCHED = {
    "challenges_run": "UPDATE",
    "live_board": "INSERT OR UPDATE OR DELETE",
    "designs_design": "INSERT OR UPDATE",
    "designs_reading": "INSERT",
    "designs_teamprediction": "INSERT",
    "designs_draft": "INSERT",
    "designs_photo": "INSERT OR DELETE",
    "bench_trial": "INSERT OR UPDATE",
    "bench_ledgerevent": "INSERT",
    "results_reflection": "INSERT OR UPDATE",
}
TRIGGERS = "".join(
    f"CREATE TRIGGER tell AFTER {when} ON {table} FOR EACH ROW EXECUTE FUNCTION girder_tell();"
    for table, when in WATCHED.items()
)
TEAM = "CREATE TRIGGER tell AFTER UPDATE ON people_team FOR EACH ROW EXECUTE FUNCTION girder_tell_of_team();"
SILENT = "DROP FUNCTION girder_tell() CASCADE; DROP FUNCTION girder_tell_of_team() CASCADE;"


class Migration(migrations.Migration):
    dependencies = [
        ("live", "0001_initial"),
        ("people", "0001_initial"),
        ("challenges", "0001_initial"),
        ("designs", "0001_initial"),
        ("bench", "0001_initial"),
        ("results", "0001_initial"),
    ]

    operations = [migrations.RunSQL(TELL + TRIGGERS + TEAM, SILENT)]
