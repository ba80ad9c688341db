"""Everything that the demo's pages link to is there, every id stands once, and every form goes
somewhere.
"""

import re

from django.test import TestCase
from django.urls import resolve

from tests import years
from tests.chimney.monkey import Page

MOST_PAGES = 260


class Crawl(TestCase):
    @classmethod
    def setUpTestData(cls):
        years.a_year()

    def test_every_link_leads_somewhere(self):
        waiting, seen, forms, places, ids = ["/"], set(), set(), set(), {}
        while waiting and len(seen) < MOST_PAGES:
            url = waiting.pop(0)
            shape = re.sub(r"\d+", "N", url.partition("?")[0])
            # A dozen of each kind of page will do.
            if (
                url in seen
                or sum(re.sub(r"\d+", "N", one.partition("?")[0]) == shape for one in seen) >= 12
            ):
                continue
            seen.add(url)
            with self.subTest(url):
                answer = self.client.get(url, follow=True)
                self.assertEqual(answer.status_code, 200)
                if "text/html" not in answer["Content-Type"] or "attachment" in answer.get(
                    "Content-Disposition", ""
                ):
                    continue
                page = Page(answer.content.decode(), url)
                twice = {one for one in page.ids if page.ids.count(one) > 1}
                self.assertEqual(twice, set(), "ids that stand twice")
                places, ids[url] = places | page.places, {*page.ids, ""}
                forms |= {
                    offer.action.partition("?")[0]
                    for offer in page.offers
                    if offer.method == "post"
                }
                waiting += sorted(
                    link
                    for link in page.links
                    if not link.startswith("/static/") and link not in seen
                )
        self.assertGreater(len(seen), 120)
        led = {(url, place) for url, place in places if url in ids}
        self.assertEqual({one for one in led if one[1] not in ids[one[0]]}, set())
        self.assertGreater(sum(url == "/words/" for url, _ in led), 25)
        for url in forms:
            with self.subTest(form=url):
                self.assertTrue(resolve(url))
        self.assertGreater(len(forms), 40)

    def test_every_room_is_within_three_links_of_the_hearth(self):
        near, edge = {"/"}, {"/"}
        for _ in range(3):
            found = set()
            for url in sorted(edge):
                answer = self.client.get(url)
                if answer.status_code == 200 and "text/html" in answer["Content-Type"]:
                    found |= {
                        link.partition("?")[0] for link in Page(answer.content.decode()).links
                    }
            edge = {link for link in found - near if not re.search(r"static|\d", link)}
            near |= found
        for room in (
            "/kit/can/",
            "/kit/room/",
            "/kit/needs/",
            "/plan/outings/",
            "/plan/places/",
            "/plan/sun/",
        ):
            self.assertIn(room, near)
        for room in (
            "/expose/cans/",
            "/expose/packet/",
            "/develop/",
            "/read/",
            "/learn/",
            "/sheets/",
            "/keys/",
        ):
            self.assertIn(room, near)
