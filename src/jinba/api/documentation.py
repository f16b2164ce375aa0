"""The API's documentation as one page without scripts, made from the schema and served by the program itself."""

from __future__ import annotations

from html import escape
from typing import Any

from fastapi import APIRouter
from fastapi.responses import HTMLResponse, Response

STYLE = """
body { font: 16px/1.5 system-ui, sans-serif; max-width: 60rem; margin: 2rem auto; padding: 0 1rem; }
body { background: #f5f0e3; color: #22262b; } h2 { margin: 2rem 0 0.5rem; } code { font-size: 0.95em; }
section { border-top: 1px solid #d8cfb8; padding: 0.6rem 0; } p { margin: 0.2rem 0; } .method { font-weight: bold; }
"""

router = APIRouter(include_in_schema=False)


@router.get("/api/docs.css")
def style() -> Response:
    """Return how the documentation looks."""
    return Response(STYLE, media_type="text/css")


def documentation(schema: dict[str, Any]) -> HTMLResponse:
    """Return every operation with what it takes and gives; the schemas themselves are in the OpenAPI file."""
    by_tag: dict[str, list[str]] = {}
    for path, operations in schema["paths"].items():
        for method, operation in operations.items():
            by_tag.setdefault(operation.get("tags", ["other"])[0], []).append(_operation(method, path, operation))
    rooms = "".join(f"<h2>{escape(tag)}</h2>{''.join(rows)}" for tag, rows in by_tag.items())
    title = f"{escape(schema['info']['title'])} {escape(schema['info']['version'])}: the interface for programs"
    return HTMLResponse(
        f"<!doctype html><html lang='en'><head><meta charset='utf-8'><title>{title}</title>"
        "<link rel='stylesheet' href='/api/docs.css'></head><body>"
        f"<h1>{title}</h1><p>Every schema: <a href='/api/openapi.json'>OpenAPI</a>. Errors are "
        f"<code>application/problem+json</code>. SI units, angles in radians.</p>{rooms}</body></html>"
    )


def _operation(method: str, path: str, operation: dict[str, Any]) -> str:
    takes = [f"<code>{escape(p['name'])}</code> ({p['in']})" for p in operation.get("parameters", [])]
    body = operation.get("requestBody", {}).get("content", {})
    takes += [f"body {_shape(kind, content)}" for kind, content in body.items()]
    gives = [
        f"{status} {_shape(kind, content)}"
        for status, answer in operation.get("responses", {}).items()
        if status != "default"
        for kind, content in answer.get("content", {}).items()
    ]
    lines = [
        f"<span class='method'>{method.upper()}</span> <code>{escape(path)}</code>",
        escape(operation.get("description", "")),
        f"Takes {', '.join(takes)}." if takes else "",
        f"Gives {', '.join(gives)}." if gives else "",
    ]
    return "<section>" + "".join(f"<p>{line}</p>" for line in lines if line) + "</section>"


def _shape(kind: str, content: dict[str, Any]) -> str:
    reference = str(content.get("schema", {}).get("$ref", ""))
    return f"<code>{escape(reference.rsplit('/', 1)[-1] or kind)}</code>"
