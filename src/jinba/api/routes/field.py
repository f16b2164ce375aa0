"""The field door's own operations: where it is, codes that pair, devices that are let in."""

from __future__ import annotations

import uuid

from fastapi import APIRouter, Request, Response
from limits import RateLimitItemPerMinute, storage, strategies

from jinba.api.deps import DbDep
from jinba.api.field import COOKIE, Site, device_of
from jinba.api.schemas.field import FieldView, NewCode, Pair, ShownCode
from jinba.core.errors import RefusedError
from jinba.formats.qr import qr_picture
from jinba.persistence.repositories import NotFoundError
from jinba.services import pairing
from jinba.services.pairing import PairedDevice, TooManyGuessesError, WrongCodeError

router = APIRouter(prefix="/api/v1/field", tags=["field"])

WRONG_FROM_ONE = RateLimitItemPerMinute(5)
WRONG_FROM_ALL = RateLimitItemPerMinute(30, 10)
"""Wrong codes from one address in a minute, and from all in ten: then no code that is shown pairs any more. Of 2^40 codes that is none."""


class Guesses:
    """Counts wrong codes, in the memory of this process: a restart shows new codes anyway."""

    def __init__(self) -> None:
        self.window = strategies.MovingWindowRateLimiter(storage.MemoryStorage())

    def too_many(self, who: str) -> bool:
        """Return whether an address has guessed often enough."""
        return not self.window.test(WRONG_FROM_ONE, who) or not self.window.test(WRONG_FROM_ALL, "all")

    def wrong(self, who: str) -> bool:
        """Count a wrong code; returns whether all codes are to be withdrawn."""
        self.window.hit(WRONG_FROM_ONE, who)
        return not self.window.hit(WRONG_FROM_ALL, "all") or not self.window.test(WRONG_FROM_ALL, "all")


@router.get("", operation_id="getField")
def get_field(request: Request) -> FieldView:
    """Return where devices find the program, and what asks: nothing that is secret."""
    return _view(request, device_of(request))


@router.get("/authority.crt", operation_id="getAuthority", response_class=Response)
def get_authority(request: Request) -> Response:
    """Return the certificate of the authority that vouches for this program's name, for a device to trust."""
    site = _site(request)
    if site is None:
        raise NotFoundError("The program was not started for the field: there is no certificate.")
    offered = f'attachment; filename="{site.name.removesuffix(".local")}.crt"'
    return Response(site.authority, media_type="application/x-x509-ca-cert", headers={"Content-Disposition": offered})


@router.post("/codes", operation_id="showCode")
def show_code(request: Request, body: NewCode, db: DbDep) -> ShownCode:
    """Have a code shown that pairs one device, once."""
    site = _site(request)
    if site is None:
        raise RefusedError("The program listens on this machine only. Start it for the field: ./jinba serve --field")
    if body.sortie_id is None and device_of(request) is not None:
        raise RefusedError("A device of your own is paired from the laptop, under Phones.")
    made = db.write(lambda s: pairing.new_code(s, sortie_id=body.sortie_id))
    address = pairing_address(site, made.code)
    return ShownCode(code=made.code, address=address, picture=qr_picture(address), expires_at=made.expires_at)


def pairing_address(site: Site, code: str) -> str:
    """Return the address that pairs by itself. The code stands behind the #: browsers send that to nobody."""
    return f"{site.address}/pair#{code}"


@router.post("/paired-devices", operation_id="pairDevice")
def pair_device(request: Request, response: Response, body: Pair, db: DbDep) -> FieldView:
    """Let a device in by a code; from then on its cookie says who it is."""
    guesses: Guesses = request.app.state.guesses
    who = request.client.host if request.client else ""
    if guesses.too_many(who):
        raise TooManyGuessesError(
            "Too many wrong codes. Wait a minute, have a new code shown on the laptop, and type that."
        )
    try:
        device, token = db.write(lambda s: pairing.pair(s, code=body.code, name=body.name))
    except WrongCodeError:
        if guesses.wrong(who):
            db.write(pairing.withdraw_codes)
        raise
    response.set_cookie(
        COOKIE,
        token,
        max_age=int((device.expires_at - device.paired_at).total_seconds()),
        secure=True,
        httponly=True,
        samesite="strict",
    )
    return _view(request, device)


@router.get("/paired-devices", operation_id="listDevices")
def list_devices(db: DbDep) -> list[PairedDevice]:
    """Return the devices that are let in, the newest first."""
    return db.read(pairing.paired)


@router.delete("/paired-devices/{device_id}", operation_id="forgetDevice")
def forget_device(device_id: uuid.UUID, db: DbDep) -> list[PairedDevice]:
    """Let a device in no more, from its next request on; twice is once."""
    db.write(lambda s: pairing.forget(s, device_id))
    return db.read(pairing.paired)


def _site(request: Request) -> Site | None:
    found: Site | None = request.app.state.site
    return found


def _view(request: Request, device: PairedDevice | None) -> FieldView:
    site = _site(request)
    at_the_field_door = request.app.state.for_paired
    asks = "laptop" if not at_the_field_door else "nobody" if device is None else "helper" if device.helps else "device"
    if site is None:
        return FieldView(serving=False, asks=asks)
    return FieldView(
        serving=True,
        asks=asks,
        name=site.name,
        address=site.address,
        by_number=site.by_number,
        fingerprint=site.fingerprint,
        authority_until=site.until,
        device=device,
    )
