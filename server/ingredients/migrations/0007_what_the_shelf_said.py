"""Remember what the shelf said of each row: rows that came with it until now are marked as stocked before marks."""

from django.db import migrations, models

STOCKED = frozenset(
    """
    cocoa-powder cocoa-powder-22 dark-cocoa cocoa-mass cocoa-butter dark-chocolate-55 dark-chocolate-70
    milk-chocolate white-chocolate whole-milk semi-skimmed-milk skim-milk cream-10 cream-20 cream-30 cream-35
    cream-36 cream-40 cream-48 clotted-cream skim-milk-powder whole-milk-powder buttermilk-powder whey-powder
    whey-protein-80 milk-protein-85 lactose-powder lactose-free-milk goat-milk condensed-milk evaporated-milk
    dulce-de-leche buttermilk kefir yogurt greek-yogurt skyr quark sour-cream creme-fraiche cream-cheese mascarpone
    ricotta butter butterfat egg-yolk whole-egg egg-white sugared-yolk dried-yolk dried-egg-white inulin
    oligofructose polydextrose oat-fibre vanilla-pod cinnamon cardamom black-pepper nutmeg saffron ginger-fresh mint
    basil bay-leaf lavender rose-petals rose-water elderflower-cordial apple-puree apricot-puree avocado banana
    blackberry-puree blackcurrant-puree blueberry-puree cherry-puree sour-cherry-puree cranberry-puree fig-puree
    gooseberry-puree grapefruit-juice grape-juice lime-juice mango-puree melon orange-juice passion-fruit-puree
    peach-puree pineapple plum-puree pomegranate-juice pumpkin-puree redcurrant-puree strawberry-puree
    sea-buckthorn-puree quince-puree pear-puree rhubarb-puree raspberry-puree lemon-juice apple-juice-concentrate
    dates raisins dried-apricots prunes freeze-dried-raspberry lemon-zest orange-zest apricot-jam locust-bean-gum
    guar-gum xanthan-gum pectin tara-gum cellulose-gum carrageenan agar sodium-alginate konjac gelatin
    mono-diglycerides lecithin espresso instant-coffee matcha tea-leaves salt citric-acid malic-acid cream-of-tartar
    baking-soda biscuit-crumbs sponge-crumbs meringue honeycomb puffed-rice black-sesame-paste hazelnut-paste
    almond-paste cashew-paste peanut-paste pecan-paste pistachio-paste walnut-paste macadamia-paste
    white-sesame-paste pumpkin-seed-paste sunflower-seed-paste chopped-hazelnuts chopped-almonds hazelnut-praline
    marzipan chestnut-puree oat-drink coconut-oil coconut-milk coconut-cream soy-drink almond-drink rice-drink
    oat-cream pea-protein sunflower-oil olive-oil tofu-silken glycerol erythritol xylitol maltitol sorbitol
    sorbitol-syrup maltitol-syrup neutral-spirit-40 vanilla-extract rum-40 whisky-43 brandy-40 neutral-spirit-95
    orange-liqueur coffee-liqueur almond-liqueur white-wine red-wine port perry cider stout corn-starch
    tapioca-starch potato-starch wheat-flour rolled-oats sugar dextrose fructose icing-sugar light-brown-sugar
    muscovado glucose-syrup-de42 glucose-syrup-de60 glucose-powder-de38 maltodextrin-de18 invert-sugar honey
    maple-syrup malt-extract malted-barley-powder molasses golden-syrup agave-syrup date-syrup rice-syrup trehalose
    allulose caramel-sauce steviol-glycosides monk-fruit-extract sucralose water
    """.split()
)


def mark(apps, schema_editor):
    apps.get_model("ingredients", "Ingredient").objects.filter(slug__in=STOCKED).update(shelf_said="before")


class Migration(migrations.Migration):
    dependencies = [("ingredients", "0006_machines_count_too")]
    operations = [
        migrations.AddField("ingredient", "may_hold", models.JSONField(default=list)),
        migrations.AddField("ingredient", "shelf_offer", models.JSONField(null=True)),
        migrations.AddField("ingredient", "shelf_said", models.CharField(blank=True, default="", max_length=64)),
        migrations.RunPython(mark, migrations.RunPython.noop),
    ]
