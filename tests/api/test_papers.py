"""Papers and tables through the API."""

from __future__ import annotations

import io

from pypdf import PdfReader

from tests.api.steps import V1, create, new_id, ok, plan_sortie, step


def test_sheets_and_templates_come_as_pdf_and_svg(client):
    path = f"{V1}/models/{create(client, 'Paper', 'flying_wing')['id']}"
    for name in ("balance-sheet", "marking-template"):
        pdf, svg = client.get(f"{path}/{name}.pdf"), client.get(f"{path}/{name}.svg")
        assert pdf.content.startswith(b"%PDF-")
        assert pdf.headers["content-type"] == "application/pdf"
        assert "<svg" in svg.text
    assert client.get(f"{path}/marking-template.svg?y_m=0.4").text != client.get(f"{path}/marking-template.svg").text
    refused = client.get(f"{path}/marking-template.pdf?y_m=5")
    assert (refused.status_code, refused.json()["code"]) == (422, "out-of-range")
    assert client.get(f"{path}/balance-sheet.docx").status_code == 422
    assert client.get(f"{V1}/models/{new_id()}/balance-sheet.pdf").status_code == 404


def test_items_go_out_as_a_table_come_in_changed_and_can_be_undone(client):
    model = create(client, "Table")
    path = f"{V1}/models/{model['id']}"
    table = client.get(f"{path}/items.csv").text
    assert table.startswith("name,kind,mass_g,station_mm")
    longer = table + "Camera,part,62,140,0,10,,,yes\r\n"
    after = ok(client.put(f"{path}/items.csv", content=longer.encode(), headers={"Content-Type": "text/csv"}))
    assert [i["name"] for i in after["setup"]["items"]][-1] == "Camera"
    assert [i["key"] for i in after["setup"]["items"]][:2] == [i["key"] for i in model["setup"]["items"]], (
        "identities stay"
    )
    assert ok(step(client, model["id"], "undo"))["setup"]["items"] == model["setup"]["items"]
    bad = client.put(f"{path}/items.csv", content=b"name,mass_g,station_mm\nPack,lots,1\n")
    assert (bad.status_code, bad.json()["code"]) == (422, "bad-item-table")
    assert "Row 2, mass_g" in bad.json()["title"]
    assert ok(client.get(path))["setup"]["items"] == model["setup"]["items"], "nothing is changed"


def test_the_cards_of_the_next_sortie_come_on_a5_in_the_pilots_own_words_and_of_an_open_one_as_it_was_chosen(client):
    model = create(client, "Paper", "high_wing")["id"]
    path = f"{V1}/models/{model}"

    def pages(**headers: str) -> list[str]:
        answer = client.get(f"{path}/sortie-cards.pdf", headers=headers)
        read = PdfReader(io.BytesIO(answer.content))
        assert {
            (round(float(p.mediabox.width) / 72 * 25.4), round(float(p.mediabox.height) / 72 * 25.4))
            for p in read.pages
        } == {(148, 210)}
        return [" ".join(p.extract_text().replace("\xa0", " ").split()) for p in read.pages]

    planned = ok(client.get(f"{path}/plan"))["programme"]
    first, *cards = pages()
    assert f"{planned['minutes']:.1f} of {planned['safe_minutes']:.1f} safe minutes" in first
    assert "If it goes wrong" in first
    assert [c.split()[0] for c in cards] == planned["flight"]
    trim = next(c for c in cards if c.startswith("F2 "))
    assert "Hands off and level just before? [ ] yes [ ] could not be left alone" in trim
    assert "[ ] nose sinks [ ] holds [ ] nose rises" in trim
    assert "nose up / nose down" in trim
    assert not any("ft" in p.split() for p in (first, *cards))
    feet = pages(**{"Jinba-Units": "length=in, distance=ft, mass=oz, speed=mph"})
    assert "Go round from 30 ft or more." in next(p for p in feet if p.startswith("F28 "))
    plan_sortie(client, model, card_ids=["F1", "F2", "F3", "F28", "F29"])
    assert [p.split()[0] for p in pages()[1:]] == ["F1", "F2", "F3", "F28", "F29"]
    assert client.get(f"{V1}/models/{new_id()}/sortie-cards.pdf").status_code == 404
