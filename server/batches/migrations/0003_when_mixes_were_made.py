"""Mixes learn when they were last made, and from which revision they go on."""

from django.db import migrations

FILL = """
UPDATE bench_mix SET
  made_at = (
    SELECT max(batch.begun_at) FROM batches_batch batch
    JOIN bench_revision revision ON revision.id = batch.revision_id WHERE revision.mix_id = bench_mix.id
  ),
  based_on = (SELECT max(number) FROM bench_revision WHERE bench_revision.mix_id = bench_mix.id)
"""


class Migration(migrations.Migration):
    dependencies = [("batches", "0002_records_stay"), ("bench", "0006_marks_limits_and_notes")]

    operations = [migrations.RunSQL(FILL, migrations.RunSQL.noop)]
