"""The live API: a teacher's hold on a board, the board itself, and streams of changes.

A board's address holds its token and asks for no sign-in: it can be looked at and nothing else.
"""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator, Awaitable, Callable
from typing import Any

from asgiref.sync import sync_to_async
from django.db import connections
from django.http import FileResponse, HttpRequest, HttpResponseBase, JsonResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.models import Run
from designs.models import Photo
from designs.pictures import picture_of
from evengirder.entry import entry
from evengirder.errors import ErrorBody, body
from girder_core.measure import read_in
from live import services
from live.listener import listener
from live.models import Board
from live.selectors import board_state
from live.serializers import BoardChangeSerializer, BoardLinkSerializer, BoardStateSerializer
from people.models import Teacher
from people.policy import owned, owned_or_404

KEEP_ALIVE_S = 15.0


def _boards() -> Any:
    # The board of a run that was deleted is closed, till the run comes back.
    return Board.objects.filter(run__removed_at__isnull=True).select_related("run__school_class__owner")


class RunBoardView(APIView):
    """A run's board: see whether there is one, open it, put a screen on, give it a new link, close it."""

    @extend_schema(operation_id="run_board", responses={200: BoardLinkSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return _link(owned_or_404(Run.objects.all(), request, pk))

    @extend_schema(
        operation_id="run_board_change",
        request=BoardChangeSerializer,
        responses={200: BoardLinkSerializer, 400: ErrorBody, 404: ErrorBody},
    )
    def put(self, request: Request, pk: int) -> Response:
        run = owned_or_404(Run.objects.all(), request, pk)
        typed = entry(BoardChangeSerializer, request)
        if "action" in typed:
            _ACTIONS[typed["action"]](run)
        if "screen" in typed:
            services.show_screen(run, typed["screen"])
        return _link(run)


_ACTIONS: dict[str, Callable[[Run], object]] = {
    "open": services.open_board,
    "renew": services.renew_board,
    "close": services.close_board,
}


def _link(run: Run) -> Response:
    board = Board.objects.filter(run=run).first()
    return Response(BoardLinkSerializer(board or {"token": None, "screen": "bench"}).data)


def _seen(board: Board) -> dict[str, Any]:
    """What a board shows, all of it in the units of the run's teacher: nobody is signed in."""
    with read_in(board.run.system):
        return dict(BoardStateSerializer(board_state(board)).data)


class BoardView(APIView):
    """What a board shows, for whoever has its link."""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]

    @extend_schema(operation_id="board_show", auth=[], responses={200: BoardStateSerializer, 404: ErrorBody})
    def get(self, request: Request, token: str) -> Response:
        return Response(_seen(get_object_or_404(_boards(), token=token)))


class BoardPhotoView(APIView):
    """A photograph of the run that a board shows, for whoever has its link."""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]

    @extend_schema(
        operation_id="board_photo", auth=[], responses={(200, "image/jpeg"): OpenApiTypes.BINARY, 404: ErrorBody}
    )
    def get(self, request: Request, token: str, pk: int) -> FileResponse:
        board = get_object_or_404(_boards(), token=token)
        return picture_of(get_object_or_404(Photo, pk=pk, design__run=board.run_id, design__removed_at__isnull=True))


async def board_stream(request: HttpRequest, token: str) -> HttpResponseBase:
    """Server-sent events of a board: its whole state at once, and again at every change."""
    board = await _boards().filter(token=token).afirst()
    if board is None:
        return _nothing()

    def state() -> dict[str, Any] | None:
        try:
            # Looked up again each time: a link that was taken back shows nothing more.
            fresh = _boards().filter(token=token).first()
            return None if fresh is None else _seen(fresh)
        finally:
            connections.close_all()

    return _stream(board.run_id, sync_to_async(state))


async def run_stream(request: HttpRequest, pk: int) -> HttpResponseBase:
    """Server-sent events for a signed-in teacher: that the run has changed, and nothing more."""
    teacher = await request.auser()
    if not isinstance(teacher, Teacher):
        return JsonResponse(body("not_authenticated", "Sign in first."), status=403)
    if not await owned(Run.objects.filter(pk=pk), teacher).aexists():
        return _nothing()

    async def nothing() -> dict[str, Any]:
        return {}

    return _stream(pk, nothing)


def _nothing() -> JsonResponse:
    return JsonResponse(body("not_found", "There is nothing here, or it is not yours."), status=404)


def _stream(run: int, state: Callable[[], Awaitable[dict[str, Any] | None]]) -> StreamingHttpResponse:
    response = StreamingHttpResponse(_events(run, state), content_type="text/event-stream")
    response["Cache-Control"] = "no-cache"
    # A proxy in front must not hold events back.
    response["X-Accel-Buffering"] = "no"
    return response


async def _events(run: int, state: Callable[[], Awaitable[dict[str, Any] | None]]) -> AsyncIterator[bytes]:
    # A stream lasts for a whole lesson and must not keep a database connection from others meanwhile.
    await sync_to_async(connections.close_all)()
    async with listener().changes(run) as changes:
        yield b": here\n\n"
        while True:
            shown = await state()
            if shown is None:
                yield b"event: gone\ndata: {}\n\n"
                return
            yield f"event: changed\ndata: {json.dumps(shown, default=str)}\n\n".encode()
            while True:
                try:
                    await asyncio.wait_for(changes.get(), KEEP_ALIVE_S)
                    break
                except TimeoutError:
                    yield b": still here\n\n"
