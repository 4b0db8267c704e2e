"""Coating day on Now and in a row of Windows: the first hours that hold, what closes the others, hours of the shop, rain."""

import json
from datetime import timedelta

from emplastra.accounts.models import Role
from emplastra.climate.models import Forecast, Place
from emplastra.climate.services import import_forecast, note_reading
from emplastra.logbook.models import Kind
from emplastra.shared import clock
from tests.base import NOON, ShopCase, text_of


class CoatingDayTests(ShopCase):
    def setUp(self):
        super().setUp()
        self.url = f"/zones/{self.shop.zone.pk}/"

    def hours(self, text):
        self.shop.workshop.open_hours = text
        self.shop.workshop.save()

    def test_now_or_when_somebody_is_there(self):
        # 20 °C, 50 %: it holds at any hour. One square metre takes 4 min to spray, and the primer flashes 20 min.
        said = text_of(self.client.get(self.url))
        self.assertIn("The air holds for Test primer now : on by", said)
        self.assertIn("say in Settings when somebody is there", said)
        # Noon is a Tuesday in Vienna at 12:00: nobody is there before tomorrow at seven.
        self.hours("Wed–Fri 7:00–17:00")
        said = text_of(self.client.get(self.url))
        self.assertIn("First hours for Test primer : tomorrow 07:00", said)
        self.assertIn("shop shut", said)
        self.assertNotIn("What would change it", said)
        self.assertIn("Test primer", text_of(self.client.get(f"/zones/{self.shop.zone.pk}/working")))
        # Forty hours in a row: put on on Wednesday, flashed whatever the clock says.
        self.assertEqual(
            self.client.get(self.url, {"hours": "40"}).context["coating"].day.slot.end_s - NOON.timestamp(),
            (19 + 40) * 3600,
        )
        self.hours("Sat 8:00–8:01")
        self.assertIn("No hours for Test primer within three days: shop shut", text_of(self.client.get(self.url)))

    def test_hours_are_typed_in_settings(self):
        self.shop.user.role = Role.OWNER
        self.shop.user.save()
        page = self.client.get("/settings/")
        data = {name: page.context["form"][name].value() for name in page.context["form"].fields}
        data = {name: "" if value is None else value for name, value in data.items()}
        answer = self.client.post("/settings/", data | {"open_hours": "Mon 12–7"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("ends before it begins", text_of(answer))
        self.client.post("/settings/", data | {"open_hours": "mo-fr 7-17"})
        self.shop.workshop.refresh_from_db()
        self.assertEqual(self.shop.workshop.open_hours, "Mon–Fri 7:00–17:00")

    def test_a_forecast_tells_rain_and_wind(self):
        yard = Place.objects.create(name="Yard", kind="yard")
        self.shop.tell(Kind.MOVED, -0.2, -0.1, place=yard)
        hours = [NOON + timedelta(hours=k) for k in range(96)]
        rain = [0.5 if k < 5 else 0.0 for k in range(96)]
        wind = [9.0 if k == 6 else "calm" if k == 7 else 2.0 for k in range(96)]
        told = {"time": [h.isoformat() for h in hours], "air_c": [20.0] * 96, "dew_c": [5.0] * 96, "rain_mm": rain, "wind_m_s": wind}  # fmt: skip
        import_forecast(self.shop.user, [yard], "yard.json", json.dumps({"hourly": told}).encode())
        sky = Forecast.objects.get().sky
        self.assertEqual((sky[0][1:], sky[6][1:], sky[7][1:]), ([0.5, 2.0], [0.0, 9.0], [0.0, None]))
        said = text_of(self.client.get(self.url))
        # Rain until five hours after noon (17:00 in Vienna): then it holds for an hour, before the wind.
        self.assertIn("now to 17:00: rain", said)
        self.assertIn("18:00 to 19:00: wind", said)
        self.assertIn("First hours for Test primer : 17:00 to 17:2", said)
        clock.freeze(NOON)
        table = "time,temp_c,rh_pct,rain_mm,wind_m_s\n" + "\n".join(f"{h.isoformat()},20.0,40,{k % 2},3.5" for k, h in enumerate(hours))  # fmt: skip
        import_forecast(self.shop.user, [yard], "yard.csv", table.encode())
        self.assertEqual(Forecast.objects.order_by("id").last().sky[1][1:], [1.0, 3.5])

    def test_what_would_change_it(self):
        # 20 °C and 95 % have their dew point at 19.2 °C: under 3 K. 25 °C with that moisture are 5.8 K over it.
        for minutes in (1, 31):
            clock.freeze(NOON + timedelta(minutes=minutes))
            note_reading(self.shop.user, self.shop.place, clock.now(), 20.0, 95.0)
        said = text_of(self.client.get(self.url))
        for words in (
            "near dew",
            "What would change it",
            "5 K warmer, electric or flued: ",
            "unflued flame is refused",
            "0.8 g of water",
        ):
            self.assertIn(words, said)
        self.assertNotIn("5 K warmer, electric or flued: not within", said)
