"""An independent client of the Language Server Protocol goes through a session with the demo.

HARMONYM names the tool, DEMO a folder with the demo's files.
"""

import os
import pathlib

import pytest
import pytest_lsp
from lsprotocol import types as lsp
from pytest_lsp import ClientServerConfig, LanguageClient, client_capabilities

TOOL = os.environ["HARMONYM"]
DEMO = pathlib.Path(os.environ["DEMO"])


@pytest_lsp.fixture(config=ClientServerConfig(server_command=[TOOL, "lsp"]))
async def client(lsp_client: LanguageClient):
    capabilities = client_capabilities("neovim")
    params = lsp.InitializeParams(capabilities=capabilities, root_uri=DEMO.as_uri())
    await lsp_client.initialize_session(params)
    yield
    await lsp_client.shutdown_session()


@pytest.mark.asyncio
async def test_a_session(client: LanguageClient):
    path = DEMO / "harmonym.toml"
    text, uri = path.read_text(), path.as_uri()
    document = lsp.TextDocumentIdentifier(uri=uri)
    item = lsp.TextDocumentItem(uri=uri, language_id="toml", version=1, text=text)
    client.text_document_did_open(lsp.DidOpenTextDocumentParams(text_document=item))
    await client.wait_for_notification("textDocument/publishDiagnostics")
    assert not client.diagnostics[uri]

    lines = text.split("\n")
    number = next(at for at, line in enumerate(lines) if "pad.left-stick | @stick" in line)
    column = lines[number].index("@stick") + 3
    here = {"text_document": document, "position": lsp.Position(number, column)}

    items = await client.text_document_completion_async(lsp.CompletionParams(**here))
    assert [one.label for one in items.items] == ["@stick"]
    hover = await client.text_document_hover_async(lsp.HoverParams(**here))
    assert "deadzone 0.1" in hover.contents.value
    place = await client.text_document_definition_async(lsp.DefinitionParams(**here))
    assert lines[place.range.start.line].startswith("stick = ")
    rename = lsp.RenameParams(**here, new_name="thumb")
    renamed = await client.text_document_rename_async(rename)
    assert len(renamed.changes[uri]) >= 2
    symbols = await client.text_document_document_symbol_async(
        lsp.DocumentSymbolParams(text_document=document)
    )
    assert [one.name for one in symbols if one.children][:2] == ["quay", "tug"]
    options = lsp.FormattingOptions(tab_size=4, insert_spaces=True)
    form = lsp.DocumentFormattingParams(text_document=document, options=options)
    assert not await client.text_document_formatting_async(form)
    folds = lsp.FoldingRangeParams(text_document=document)
    assert len(await client.text_document_folding_range_async(folds)) > 20
    whole = lsp.Range(lsp.Position(0, 0), lsp.Position(999, 0))
    hints = lsp.InlayHintParams(text_document=document, range=whole)
    assert await client.text_document_inlay_hint_async(hints)

    stick = lines[number].index("left-stick")
    edit = lsp.TextDocumentContentChangePartial(
        range=lsp.Range(lsp.Position(number, stick), lsp.Position(number, stick + 10)),
        text="stick-left",
    )
    version = lsp.VersionedTextDocumentIdentifier(uri=uri, version=2)
    client.text_document_did_change(
        lsp.DidChangeTextDocumentParams(text_document=version, content_changes=[edit])
    )
    await client.wait_for_notification("textDocument/publishDiagnostics")
    (fault,) = client.diagnostics[uri]
    assert fault.code == "unknown-control"
    actions = await client.text_document_code_action_async(
        lsp.CodeActionParams(
            text_document=document,
            range=fault.range,
            context=lsp.CodeActionContext(diagnostics=[fault]),
        )
    )
    assert actions[0].title == "Write `pad.left-stick`"
    client.text_document_did_close(lsp.DidCloseTextDocumentParams(text_document=document))
