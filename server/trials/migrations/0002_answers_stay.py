"""Let the database itself refuse to change what a taster said, or what a test asked."""

from django.db import migrations

CREATE = """
CREATE TRIGGER answer_stays BEFORE UPDATE OF test_id, serving, said, at ON trials_trialanswer
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
CREATE TRIGGER test_stays BEFORE UPDATE OF trial_id, kind, attribute, variants, tasters, seed ON trials_trialtest
    FOR EACH ROW EXECUTE FUNCTION refuse_change_of_record();
"""
DROP = """
DROP TRIGGER answer_stays ON trials_trialanswer;
DROP TRIGGER test_stays ON trials_trialtest;
"""


class Migration(migrations.Migration):
    dependencies = [("trials", "0001_initial"), ("mixes", "0002_revisions_stay")]
    operations = [migrations.RunSQL(CREATE, DROP)]
