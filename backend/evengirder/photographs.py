"""Photographs in a store that several hosts share (S3's protocol), instead of a folder."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from boto3.exceptions import Boto3Error
from botocore.config import Config
from botocore.exceptions import BotoCoreError, ClientError
from storages.backends.s3 import S3Storage

from evengirder.errors import PhotographsAway


@contextmanager
def _told() -> Iterator[None]:
    """A store that does not answer, or will not, is told as one that is away: whoever asked asks again."""
    try:
        yield
    except (BotoCoreError, Boto3Error, ClientError) as error:
        raise PhotographsAway(str(error)) from error


class Store(S3Storage):  # type: ignore[misc]
    """A bucket. Nobody is sent there: pictures go through the views, which ask the policy.

    Errors: ``PhotographsAway`` where it does not answer within seconds, or lets nobody in; ``FileNotFoundError``.
    """

    def __init__(self, bucket: str, address: str, region: str, key: str, secret: str) -> None:
        patience = Config(connect_timeout=3, read_timeout=10, retries={"max_attempts": 2},
                          s3={"addressing_style": "path"})  # fmt: skip
        super().__init__(
            bucket_name=bucket, endpoint_url=address or None, region_name=region, access_key=key or None,
            secret_key=secret or None, file_overwrite=False, default_acl=None, client_config=patience,
        )  # fmt: skip

    def _open(self, name: str, mode: str = "rb") -> Any:
        with _told():
            file = super()._open(name, mode)
            # Fetched here: what fails after an answer has begun can be told to nobody.
            file.file.seek(0)
            return file

    def _save(self, name: str, content: Any) -> str:
        with _told():
            return str(super()._save(name, content))

    def delete(self, name: str) -> None:
        """Take a picture away; one that is not there is no error."""
        with _told():
            super().delete(name)

    def exists(self, name: str) -> bool:
        """Whether there is a picture of this name."""
        with _told():
            return bool(super().exists(name))
