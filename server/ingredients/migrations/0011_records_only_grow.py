"""Versions and prices of ingredients only grow."""

from django.db import migrations

from kitchens.record_tables import OnlyGrows


class Migration(migrations.Migration):
    dependencies = [("ingredients", "0010_prices_and_packs"), ("kitchens", "0014_rights_of_the_application")]
    operations = [
        OnlyGrows("ingredients_ingredientversion"),
        OnlyGrows("ingredients_price"),
    ]
