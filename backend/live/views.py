"""The live API: a teacher's hold on a board, the board itself, and streams of changes.

A board's address holds its token and asks for no sign-in: it can be looked at and nothing else.
"""

from __future__ import annotations

import contextlib
import json
from collections.abc import AsyncGenerator, AsyncIterator, Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from asgiref.sync import sync_to_async
from django.contrib.sessions.models import Session
from django.db import connections
from django.http import FileResponse, Http404, HttpRequest, HttpResponseBase, JsonResponse, StreamingHttpResponse
from django.shortcuts import get_object_or_404
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from challenges.models import Run
from designs.models import Photo
from designs.pictures import picture_of
from doorstep.codes import rows_of
from evengirder import metrics
from evengirder.entry import entry
from evengirder.errors import AWAY, ErrorBody, body
from evengirder.reached import address_for_others
from girder_core.measure import read_in
from live import services
from live.kept import board_kept
from live.listener import listener
from live.models import Board
from live.selectors import BoardState
from live.serializers import BoardChangeSerializer, BoardLinkSerializer, BoardStateSerializer, board_shown
from live.shared import KEEP_ALIVE_S, Look, boards, heard
from people.models import Teacher
from people.policy import owned, owned_or_404

MOST_STREAMS = 200
"""Screens that look at boards through one process; who comes after them is asked to wait."""


def _board(token: str) -> Board:
    board = board_kept(token)
    if board is None:
        raise Http404
    return board


class RunBoardView(APIView):
    """A run's board: see whether there is one, open it, put a screen on, give it a new link, close it."""

    @extend_schema(operation_id="run_board", responses={200: BoardLinkSerializer, 404: ErrorBody})
    def get(self, request: Request, pk: int) -> Response:
        return _link(request, owned_or_404(Run.objects.all(), request, pk))

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
        return _link(request, run)


_ACTIONS: dict[str, Callable[[Run], object]] = {
    "open": services.open_board,
    "renew": services.renew_board,
    "close": services.close_board,
}


def _link(request: Request, run: Run) -> Response:
    board = Board.objects.filter(run=run).first()
    if board is None:
        return Response(BoardLinkSerializer({"token": None, "screen": "bench", "address": "", "code": []}).data)
    address = address_for_others(request, f"/board/{board.token}")
    link = {"token": board.token, "screen": board.screen, "address": address, "code": rows_of(address)}
    return Response(BoardLinkSerializer(link).data)


def _seen(board: Board) -> dict[str, Any]:
    """What a board shows, all of it in the units of the run's teacher: nobody is signed in."""
    with read_in(board.run.system):
        return board_shown(BoardState(board))


class BoardView(APIView):
    """What a board shows, for whoever has its link."""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]

    @extend_schema(operation_id="board_show", auth=[], responses={200: BoardStateSerializer, 404: ErrorBody})
    def get(self, request: Request, token: str) -> Response:
        return Response(_seen(_board(token)))


class BoardPhotoView(APIView):
    """A photograph of the run that a board shows, for whoever has its link."""

    authentication_classes: list[Any] = []
    permission_classes = [AllowAny]

    @extend_schema(
        operation_id="board_photo", auth=[], responses={(200, "image/jpeg"): OpenApiTypes.BINARY, 404: ErrorBody}
    )
    def get(self, request: Request, token: str, pk: int) -> FileResponse:
        board = _board(token)
        return picture_of(
            get_object_or_404(Photo, pk=pk, waits=False, design__run=board.run_id, design__removed_at__isnull=True)
        )


_LOOKING = ThreadPoolExecutor(2, "board")
"""Boards are looked at here, so that however many change, most of the processor is left for the benches."""


async def board_stream(request: HttpRequest, token: str) -> HttpResponseBase:
    """Server-sent events of a board: what its screen shows at once, and again at every change."""
    board = await sync_to_async(board_kept)(token)
    if board is None:
        return _nothing()

    def look() -> bytes | None:
        try:
            # Looked up again each time: a link that was taken back shows nothing more.
            fresh = board_kept(token)
            return None if fresh is None else _changed(_seen(fresh))
        finally:
            connections.close_all()

    return _stream(_board_events(board.run_id, token, sync_to_async(look, thread_sensitive=False, executor=_LOOKING)))


async def run_stream(request: HttpRequest, pk: int) -> HttpResponseBase:
    """Server-sent events for a signed-in teacher: that the run has changed, and nothing more, until the sign-out, or
    till they have no part in its class any more."""
    teacher = await request.auser()
    if not isinstance(teacher, Teacher):
        return JsonResponse(body("not_authenticated", "Sign in first."), status=403)
    if not await owned(Run.objects.filter(pk=pk), teacher).aexists():
        return _nothing()
    return _stream(_run_events(pk, teacher, str(request.session.session_key)))


def _nothing() -> JsonResponse:
    return JsonResponse(body("not_found", "There is nothing here, or it is not yours."), status=404)


def _changed(state: dict[str, Any]) -> bytes:
    return f"event: changed\ndata: {json.dumps(state, default=str)}\n\n".encode()


_GONE = b"event: gone\ndata: {}\n\n"
_FULL = b"event: full\ndata: {}\n\n"
_STILL_HERE = b": still here\n\n"


def _stream(events: AsyncGenerator[bytes]) -> StreamingHttpResponse:
    response = StreamingHttpResponse(_watched(events), content_type="text/event-stream")
    response["Cache-Control"] = "no-store"
    # A proxy in front must not hold events back.
    response["X-Accel-Buffering"] = "no"
    return response


async def _watched(events: AsyncGenerator[bytes]) -> AsyncIterator[bytes]:
    with metrics.counted(metrics.streams):
        async with contextlib.aclosing(events):
            async for event in events:
                yield event


async def _board_events(run: int, token: str, look: Look) -> AsyncGenerator[bytes]:
    # A stream lasts for a whole lesson and must not keep a database connection from others meanwhile.
    await sync_to_async(connections.close_all)()
    if boards().streams >= MOST_STREAMS:
        yield _FULL
        return
    with boards().watching(token, look, lambda: listener().changes(run)) as shared:
        yield b": here\n\n"
        async for seen in shared.seen():
            yield seen or _STILL_HERE
        yield _GONE


async def _run_events(run: int, teacher: Teacher, session: str) -> AsyncGenerator[bytes]:
    async def signed_in() -> bool:
        try:
            open_ = Session.objects.filter(session_key=session, expire_date__gt=timezone.now())
            # A colleague may have been taken out of the class meanwhile.
            there = await open_.aexists() and await owned(Run.objects.filter(pk=run), teacher).aexists()
        except AWAY:
            # The page comes back by itself, and asks for the run then.
            return False
        await sync_to_async(connections.close_all)()
        return there

    async with listener().changes(run) as changes:
        yield b": here\n\n"
        while await signed_in():
            yield _changed({})
            while not await heard(changes, KEEP_ALIVE_S):
                if not await signed_in():
                    return
                yield _STILL_HERE
