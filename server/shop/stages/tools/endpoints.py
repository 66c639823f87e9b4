"""The pocket table as a file, and all tools rearranged at once."""

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.calc.storage import Arrangement
from orthotrope.formats import tool_table
from orthotrope.formats.pocket_table import as_csv, as_xlsx

from shop.endpoint import ROUTERS, computed, computed_as, file, responses, user_of
from shop.machines.answers import StoredMachine, machine_named
from shop.stages.tools import jobs
from shop.stages.tools.actions import ArrangePockets
from shop.taken import DocumentIn, Number, Taken

router = Router()
ROUTERS.add("tools", router)

WORKBOOK = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


class ArrangeIn(Taken):
    how: Arrangement


@router.post("/machines/{slug}/pockets/arrange", response=responses(StoredMachine, 403, 404, 409, 422))
def arrange_pockets(request: HttpRequest, slug: str, body: ArrangeIn) -> StoredMachine:
    """Fill in order, empty all, or number the tools by their pockets; a supervisor's."""
    found = machine_named(slug)
    ArrangePockets(user_of(request), found, body.how).run()
    return StoredMachine.of(found)


@router.get("/machines/{slug}/pockets.csv", response=str)
def pocket_table_csv(request: HttpRequest, slug: str) -> HttpResponse:
    """The pocket table as CSV."""
    return file(as_csv(machine_named(slug).head.setup), "text/csv; charset=utf-8", f"{slug}-pockets.csv")


@router.get("/machines/{slug}/pockets.xlsx", response=str)
def pocket_table_xlsx(request: HttpRequest, slug: str) -> HttpResponse:
    """The pocket table as a workbook."""
    return file(as_xlsx(machine_named(slug).head.setup), WORKBOOK, f"{slug}-pockets.xlsx")


class BasesIn(DocumentIn):
    """``master``: the tool that is nought in that basis; ``work_offset``: the part that the third one goes to."""

    master: Number
    work_offset: Number


@router.post("/tools/bases", response=computed_as(list[jobs.Bases], 422))
def length_bases(request: HttpRequest, body: BasesIn) -> HttpResponse:
    """The lengths of all tools in every basis."""
    return computed(request, "bases", jobs.bases, body.document, body.master, body.work_offset)


@router.get("/machines/{slug}/tools.csv", response=str)
def tool_table_csv(request: HttpRequest, slug: str) -> HttpResponse:
    """The tools as CSV."""
    return file(tool_table.as_csv(machine_named(slug).head.setup), "text/csv; charset=utf-8", f"{slug}-tools.csv")


@router.get("/machines/{slug}/tools.xlsx", response=str)
def tool_table_xlsx(request: HttpRequest, slug: str) -> HttpResponse:
    """The tools as a workbook."""
    return file(tool_table.as_xlsx(machine_named(slug).head.setup), WORKBOOK, f"{slug}-tools.xlsx")


@router.post("/machines/{slug}/tools/preview", response=computed_as(tool_table.ToolTable, 404))
def preview_tool_table(request: HttpRequest, slug: str) -> HttpResponse:
    """What a table of tools (the body is the file, or what was pasted) would change; nothing is stored."""
    return computed(request, "", jobs.tools_of, machine_named(slug).head.setup.as_json(), request.body)


@router.post("/machines/{slug}/pockets/preview", response=computed_as(jobs.TablePreview, 404))
def preview_pocket_table(request: HttpRequest, slug: str) -> HttpResponse:
    """What a table (CSV or XLSX, the body is the file) would change; nothing is stored."""
    return computed(request, "", jobs.pocket_table, machine_named(slug).head.setup.as_json(), request.body)
