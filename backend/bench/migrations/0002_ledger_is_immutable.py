"""The database itself refuses to change a ledger event."""

from django.db import migrations

REFUSE = """
CREATE FUNCTION ledger_event_refuse_change() RETURNS trigger AS $$
BEGIN
    RAISE EXCEPTION 'a ledger event cannot be changed; add another event';
END;
$$ LANGUAGE plpgsql;
CREATE TRIGGER ledger_event_immutable BEFORE UPDATE ON bench_ledgerevent
    FOR EACH ROW EXECUTE FUNCTION ledger_event_refuse_change();
"""
ALLOW = """
DROP TRIGGER ledger_event_immutable ON bench_ledgerevent;
DROP FUNCTION ledger_event_refuse_change();
"""


class Migration(migrations.Migration):
    dependencies = [("bench", "0001_initial")]
    operations = [migrations.RunSQL(REFUSE, ALLOW)]
