"""The database tells of every change of a run, by whichever process it was written."""

from django.db import migrations

TELL = """
CREATE FUNCTION girder_tell() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    changed bigint;
BEGIN
    IF TG_TABLE_NAME = 'bench_ledgerevent' THEN
        SELECT d.run_id INTO changed FROM bench_trial t JOIN bench_design d ON d.id = t.design_id
        WHERE t.id = NEW.trial_id;
    ELSIF TG_TABLE_NAME IN ('bench_trial', 'bench_reading', 'bench_teamprediction') THEN
        SELECT run_id INTO changed FROM bench_design WHERE id = NEW.design_id;
    ELSIF TG_TABLE_NAME = 'challenges_run' THEN
        changed := NEW.id;
    ELSIF TG_OP = 'DELETE' THEN
        changed := OLD.run_id;
    ELSE
        changed := NEW.run_id;
    END IF;
    IF changed IS NOT NULL THEN
        PERFORM pg_notify('girder', changed::text);
    END IF;
    RETURN NULL;
END $$;
CREATE TRIGGER tell_event AFTER INSERT ON bench_ledgerevent FOR EACH ROW EXECUTE FUNCTION girder_tell();
CREATE TRIGGER tell_trial AFTER INSERT OR UPDATE ON bench_trial FOR EACH ROW EXECUTE FUNCTION girder_tell();
CREATE TRIGGER tell_reading AFTER INSERT ON bench_reading FOR EACH ROW EXECUTE FUNCTION girder_tell();
CREATE TRIGGER tell_said AFTER INSERT ON bench_teamprediction FOR EACH ROW EXECUTE FUNCTION girder_tell();
CREATE TRIGGER tell_design AFTER INSERT OR UPDATE ON bench_design FOR EACH ROW EXECUTE FUNCTION girder_tell();
CREATE TRIGGER tell_run AFTER UPDATE ON challenges_run FOR EACH ROW EXECUTE FUNCTION girder_tell();
CREATE TRIGGER tell_board AFTER INSERT OR UPDATE OR DELETE ON live_board
    FOR EACH ROW EXECUTE FUNCTION girder_tell();
"""
SILENT = "DROP FUNCTION girder_tell() CASCADE;"


class Migration(migrations.Migration):
    dependencies = [
        ("live", "0001_board"),
        ("bench", "0005_bench_for_all"),
        ("challenges", "0005_bench_for_all"),
    ]

    operations = [migrations.RunSQL(TELL, SILENT)]
