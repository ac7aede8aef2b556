"""Steps of batches as they were shown."""

import django.db.models.deletion
import django.utils.timezone
from django.db import migrations, models

from kitchens.record_tables import OnlyGrows


class Migration(migrations.Migration):

    initial = True

    dependencies = [
        ('batches', '0008_records_only_grow'),
    ]

    operations = [
        migrations.CreateModel(
            name='ShownSteps',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('chosen', models.CharField(blank=True, max_length=20)),
                ('content', models.JSONField()),
                ('at', models.DateTimeField(default=django.utils.timezone.now)),
                ('batch', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='shown_steps', to='batches.batch')),
            ],
            options={
                'ordering': ('id',),
                'constraints': [models.UniqueConstraint(fields=('batch', 'chosen'), name='one_list_of_steps_a_machine')],
            },
        ),
        OnlyGrows("making_shownsteps"),
    ]
