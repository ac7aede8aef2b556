"""What was noted as stock becomes lots: each with one movement, received on the day it was noted."""

from django.db import migrations


def bring_stock(apps, schema_editor):
    stock, lot, movement = (
        apps.get_model(*one) for one in (("ingredients", "Stock"), ("stock", "Lot"), ("stock", "Movement"))
    )
    for noted in stock.objects.select_related("ingredient").order_by("id").iterator():
        made = lot.objects.create(
            kitchen_id=noted.kitchen_id,
            ingredient_id=noted.ingredient_id,
            name=noted.ingredient.name,
            typed=noted.typed,
            came_on=noted.came_at.date(),
            # The day was a reminder, not a use-by date from a pack: somebody looks, nothing is blocked.
            best_before=noted.until,
            state=noted.state,
            note=noted.note,
        )
        movement.objects.create(kitchen_id=noted.kitchen_id, lot=made, kind="received", grams=noted.grams)


class Migration(migrations.Migration):

    dependencies = [
        ('stock', '0001_lots'),
        ('ingredients', '0008_label_facts'),
    ]

    operations = [
        migrations.RunPython(bring_stock, migrations.RunPython.noop),
    ]
