"""Mixes learn when they were last made, and from which revision they go on."""

from django.db import migrations

FILL = """
UPDATE mixes_mix SET
  made_at = (
    SELECT max(batch.begun_at) FROM batches_batch batch
    JOIN mixes_revision revision ON revision.id = batch.revision_id WHERE revision.mix_id = mixes_mix.id
  ),
  based_on = (SELECT max(number) FROM mixes_revision WHERE mixes_revision.mix_id = mixes_mix.id)
"""


class Migration(migrations.Migration):
    dependencies = [("batches", "0002_records_stay"), ("mixes", "0006_marks_limits_and_notes")]

    operations = [migrations.RunSQL(FILL, migrations.RunSQL.noop)]
