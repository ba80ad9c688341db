import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('darkroom', '0002_runs'),
    ]

    operations = [
        migrations.RemoveField(
            model_name='development',
            name='developer',
        ),
        migrations.RemoveField(
            model_name='development',
            name='parts',
        ),
        migrations.RemoveField(
            model_name='development',
            name='remarks',
        ),
        migrations.RemoveField(
            model_name='development',
            name='temperature_c',
        ),
        migrations.AlterField(
            model_name='development',
            name='run',
            field=models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='developments', to='darkroom.run'),
        ),
        migrations.AlterField(
            model_name='development',
            name='taken_at',
            field=models.DateTimeField(),
        ),
    ]
