"""Whether it can be had is told as what: as a part, only whole, or not at all."""

from django.db import migrations, models


def carry_over(apps, schema_editor):
    """What could not be had still cannot."""
    apps.get_model("jobs", "Estimate").objects.filter(obtainable=False).update(had="no")


def carry_back(apps, schema_editor):
    """Only a plain no is one."""
    apps.get_model("jobs", "Estimate").objects.filter(had="no").update(obtainable=False)


class Migration(migrations.Migration):
    dependencies = [("jobs", "0006_solder")]

    operations = [
        migrations.AddField(
            model_name="estimate",
            name="had",
            field=models.CharField(
                choices=[("part", "as a part"), ("whole", "only whole"), ("no", "no")],
                default="part",
                max_length=5,
                verbose_name="to be had",
            ),
        ),
        migrations.RunPython(carry_over, carry_back),
        migrations.RemoveField(model_name="estimate", name="obtainable"),
    ]
