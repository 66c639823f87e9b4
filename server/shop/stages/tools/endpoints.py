"""The pocket table as a file, and all tools rearranged at once."""

from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Router
from orthotrope.calc.storage import Arrangement
from orthotrope.calc.worksheets import Way, Worksheet
from orthotrope.formats import tool_table
from orthotrope.formats.pocket_table import as_csv, as_xlsx
from pydantic import Field

from shop.asking import ask
from shop.endpoint import ROUTERS, computed, computed_as, file, responses, user_of
from shop.machines.answers import StoredMachine, machine_named
from shop.stages.tools import jobs
from shop.stages.tools.actions import ArrangePockets
from shop.taken import DocumentIn, Number, Plausible, Taken

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
    """``master``: the tool that is zero in that basis; ``work_offset``: the part that the third one goes to."""

    master: Number
    work_offset: Number


@router.post("/tools/bases", response=computed_as(list[jobs.Bases], 422))
def length_bases(request: HttpRequest, body: BasesIn) -> HttpResponse:
    """The lengths of all tools in every basis."""
    return computed(request, "bases", jobs.bases, body.document, body.master, body.work_offset)


class OutlinesIn(Taken):
    """``tools``: as the document has them; nothing else of it is needed."""

    tools: Annotated[list[dict[str, Any]], Field(max_length=100)]


@router.post("/tools/outlines", response=computed_as(list[jobs.Outline], 422))
def tool_outlines(request: HttpRequest, body: OutlinesIn) -> HttpResponse:
    """The outlines of these tools, as they are drawn."""
    return computed(request, "", jobs.outlines, body.tools)


class PageIn(DocumentIn):
    """``lengths``: those that were measured of the tool, mm."""

    tool: Number
    lengths: Annotated[list[Plausible], Field(max_length=200)] = []


@router.post("/tools/page", response=computed_as(jobs.ToolPage, 422))
def tool_page(request: HttpRequest, body: PageIn) -> HttpResponse:
    """What follows for one tool."""
    return computed(request, "tool", jobs.tool_page, body.document, body.tool, body.lengths)


class WorksheetIn(DocumentIn):
    """See :class:`orthotrope.calc.worksheets.Entered`."""

    tool: Number
    way: Way
    value: Plausible
    shim: Plausible = 0.0
    height: Plausible = 0.0
    offset: Number | None = None
    active: Number | None = None
    reference: Number | None = None


@router.post("/tools/worksheet", response=computed_as(Worksheet, 422))
def length_worksheet(request: HttpRequest, body: WorksheetIn) -> HttpResponse:
    """A tool's length in a way other than the setter; nothing is stored."""
    entered = body.model_dump(include={"value", "shim", "height", "offset", "active", "reference"})
    return computed(request, "worksheet", jobs.length_worksheet, body.document, body.way, body.tool, entered)


@router.get("/machines/{slug}/tools.pdf", response=str)
def tool_sheet_pdf(request: HttpRequest, slug: str) -> HttpResponse:
    """The tools on paper, each with its drawing."""
    made = ask(request, "", jobs.tool_sheet, machine_named(slug).head.setup.as_json())
    return file(made, "application/pdf", f"{slug}-tools.pdf")


@router.get("/machines/{slug}/tools.csv", response=str)
def tool_table_csv(request: HttpRequest, slug: str) -> HttpResponse:
    """The tools as CSV."""
    return file(tool_table.as_csv(machine_named(slug).head.setup), "text/csv; charset=utf-8", f"{slug}-tools.csv")


@router.get("/machines/{slug}/tools.xlsx", response=str)
def tool_table_xlsx(request: HttpRequest, slug: str) -> HttpResponse:
    """The tools as a workbook."""
    return file(tool_table.as_xlsx(machine_named(slug).head.setup), WORKBOOK, f"{slug}-tools.xlsx")


TypedText = Annotated[str, Field(max_length=2000)]


@router.post("/machines/{slug}/tools/preview", response=computed_as(tool_table.ToolTable, 404))
def preview_tool_table(
    request: HttpRequest, slug: str, columns: TypedText | None = None, missing: TypedText = ""
) -> HttpResponse:
    """What a table of tools (the body is the file, or what was pasted) would change; nothing is stored. ``columns``: the field that each
    column is, by commas ("": none); ``missing``: what new tools get where the table has it not, as `stick_out=35 mm`, by semicolons."""
    fields = None if columns is None else columns.split(",")
    pairs = (pair.partition("=") for pair in missing.split(";") if pair)
    given = (fields, {field.strip(): text.strip() for field, _, text in pairs})
    return computed(request, "", jobs.tools_of, machine_named(slug).head.setup.as_json(), request.body, *given)


@router.post("/machines/{slug}/pockets/preview", response=computed_as(jobs.TablePreview, 404))
def preview_pocket_table(request: HttpRequest, slug: str) -> HttpResponse:
    """What a table (CSV or XLSX, the body is the file) would change; nothing is stored."""
    return computed(request, "", jobs.pocket_table, machine_named(slug).head.setup.as_json(), request.body)
