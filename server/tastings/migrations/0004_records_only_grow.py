"""What was tasted, measured or chosen only grows."""

from django.db import migrations

from kitchens.record_tables import OnlyGrows


class Migration(migrations.Migration):
    dependencies = [("tastings", "0003_doses"), ("kitchens", "0014_rights_of_the_application")]
    operations = [
        OnlyGrows("tastings_card"),
        OnlyGrows("tastings_melttest"),
        OnlyGrows("tastings_reading"),
        OnlyGrows("tastings_pieceweighing"),
        OnlyGrows("tastings_dosetasting"),
        OnlyGrows("tastings_choice"),
    ]
