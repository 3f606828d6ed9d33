"""Artists, clients and small studies for the site's tests."""

import io
import json

import numpy as np
import pytest
from django.contrib.auth import get_user_model
from django.test import Client
from PIL import Image

from caltin_site.kits import services as kits
from caltin_site.kits.schemas import KitColour, PaperData
from caltin_site.shapes import Lab
from demo.kits import WAX_24


class Artist:
    """An artist with a kit, a paper and hands, and a client that speaks JSON for them."""

    def __init__(self, name):
        self.user = get_user_model().objects.create_user(name)
        self.client = Client()
        self.client.force_login(self.user)
        kits.begin_hands(self.user)
        colours = [KitColour(id=i, name=n, medium="wax_pencil", tone=Lab(l=l, a=a, b=b)) for i, n, (l, a, b) in WAX_24[::2]]
        self.kit = kits.begin_kit(self.user, "Box", colours)
        self.paper = kits.begin_paper(self.user, "Vellum", PaperData(tone=Lab(l=95, a=0, b=2), tooth="vellum"))
        self.hand = kits.rack(self.user).hands[0]

    def get(self, path):
        return self.client.get(f"/api/{path}")

    def post(self, path, body=None):
        return self.client.post(f"/api/{path}", json.dumps(body or {}), content_type="application/json")

    def put(self, path, body):
        return self.client.put(f"/api/{path}", json.dumps(body), content_type="application/json")

    def upload(self, content, name="portrait.png", path="pictures", field="picture"):
        file = io.BytesIO(content)
        file.name = name
        return self.client.post(f"/api/{path}", {field: file})

    def begin(self, picture=None):
        body = {
            "title": "A study",
            "picture": picture,
            "kit": str(self.kit.thing_id),
            "paper": str(self.paper.thing_id),
            "hand": str(self.hand.id),
        }
        return self.post("studies", body).json()

    def change(self, study, **op):
        answer = self.post(f"studies/{study['id']}/changes", {"seen": study["revision"], "op": op})
        assert answer.status_code == 200, answer.content
        return answer.json()

    def add(self, study, role="base", lab=(62, 18, 20), id=None):
        tone = dict(zip("lab", lab, strict=True))
        return self.change(study, do="add_place", id=id or role, role=role, tone=tone)


@pytest.fixture
def artist(db):
    return Artist("purser")


@pytest.fixture
def stranger(db):
    return Artist("stranger")


@pytest.fixture
def png():
    pixels = np.zeros((90, 120, 3), dtype=np.uint8)
    pixels[:, :60] = (214, 170, 140)
    pixels[:, 60:] = (70, 45, 35)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    return out.getvalue()


@pytest.fixture
def matched(artist):
    """A study of two tones, matched."""
    from caltin_site.studies.models import Study
    from caltin_site.studies.services import match_missing

    study = artist.add(artist.add(artist.begin()), "shadow", (38, 16, 14))
    for _ in match_missing(Study.objects.get(pk=study["id"])):
        pass
    return study
