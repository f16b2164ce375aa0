"""Typed configuration, read once from the environment (prefix ``JINBA_``)."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict


class Settings(BaseSettings):
    """Where the database is, where the built front end is, and on which loopback port to serve."""

    model_config = SettingsConfigDict(env_prefix="JINBA_")

    database_url: str = "postgresql+psycopg://jinba@127.0.0.1:5432/jinba"
    web_dist: Path = Path(__file__).resolve().parents[2] / "web" / "dist"
    host: str = "127.0.0.1"
    port: int = 8470


@lru_cache(maxsize=1)
def settings() -> Settings:
    """Return the settings of this process."""
    return Settings()
