"""Papers and tables through the API."""

from __future__ import annotations

from tests.api.steps import V1, create, new_id, ok, step


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
