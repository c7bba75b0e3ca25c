import { Box } from "@mui/material";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type ClipboardEvent, type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from "react";
import {
  type Cell,
  chosen,
  cleared,
  filledDown,
  type GridColumn,
  moved,
  parseClipboard,
  pasted,
  span,
  type Typed,
  toClipboard,
} from "../../model/grid";
import { useNotice } from "../notice";
import { CellEditor } from "./CellEditor";
import { GridLine, ROW_HEIGHT } from "./GridLine";

interface Props {
  label: string;
  columns: readonly GridColumn[];
  /** How many lines hold something, and how many wait under them for more. */
  lines: number;
  spare?: number;
  textAt: (row: number, key: string) => string;
  /** How a cell looks, where that is more than its text. */
  faceAt?: (row: number, key: string) => ReactNode;
  choicesAt?: (row: number, key: string) => readonly string[] | undefined;
  /** What is offered while one types into a column. */
  offersFor?: (key: string) => readonly string[] | undefined;
  idOf: (row: number) => string | undefined;
  /** What a line is called in the history. */
  nameOf: (row: number) => string | undefined;
  lit: readonly string[];
  /** Lines that cannot be used on this model. */
  isMissing?: (row: number) => boolean;
  /** The version of what is shown. */
  version: number;
  /** `seen` is the version that stood there when the writing was begun. */
  onWrite: (typed: Typed[], label: string, seen: number) => void;
  /** A line was dragged, or moved by Alt and an arrow. */
  onMove?: (from: number, to: number) => boolean;
  /** Lines whose first cell was chosen, and Delete. */
  onTakeOut?: (from: number, to: number) => void;
}

/** A cell while somebody writes in it. */
interface Typing {
  /** What stood there before. */
  was: string;
  /** Begun by a letter: what is typed is the value, also where there is a choice. */
  byLetter: boolean;
  /** The line, or how far beyond the last one it is. */
  id: string | undefined;
  spare: number;
  seen: number;
}

/** Sheet editing as people know it; only lines in sight are drawn, so hundreds stay smooth. */
export function Grid(props: Props) {
  const { label, columns, lines, spare = 0, textAt, faceAt, choicesAt, offersFor, idOf, nameOf, lit, isMissing, version, onWrite } = props;
  const frame = useRef<HTMLDivElement>(null);
  const firstColumn = Math.max(
    0,
    columns.findIndex((column) => !column.fixed),
  );
  const [anchor, setAnchor] = useState<Cell>({ row: 0, column: firstColumn });
  const [cursor, setCursor] = useState<Cell>({ row: 0, column: firstColumn });
  const { say } = useNotice();
  const [typing, setTyping] = useState<Typing | null>(null);
  /** What is written so far: it goes with its line, wherever that moves. */
  const draft = useRef("");
  const count = lines + spare;
  const virtual = useVirtualizer({ count, getScrollElement: () => frame.current, estimateSize: () => ROW_HEIGHT, overscan: 6 });
  const area = span(anchor, cursor);
  const column = columns[cursor.column];
  const choices = column && (choicesAt?.(cursor.row, column.key) ?? column.choices);

  function write(typed: Typed[], what: string, seen = version) {
    if (typed.length > 0) onWrite(typed, what, seen);
  }

  /** Where the line that somebody writes in stands by now: others may have moved, added or taken out lines. */
  function lineOf({ id, spare: beyond }: Typing): number {
    if (id === undefined) return lines + beyond;
    for (let line = 0; line < lines; line += 1) if (idOf(line) === id) return line;
    return -1;
  }

  const written = typing ? lineOf(typing) : cursor.row;
  useEffect(() => {
    if (typing === null || written === cursor.row) return;
    if (written >= 0) {
      setCursor((now) => ({ ...now, row: written }));
      setAnchor((now) => ({ ...now, row: written }));
    } else {
      setTyping(null);
      say("The line that you were writing in was taken out by somebody else.", "error");
    }
  }, [typing, written, cursor.row, say]);

  function go(cell: Cell, extend = false) {
    setCursor(cell);
    if (!extend) setAnchor(cell);
    virtual.scrollToIndex(cell.row);
  }

  function commit(value: string, key: string, shift: boolean) {
    leave();
    if (column && typing && typing.was !== value) {
      const name = nameOf(cursor.row);
      write([{ row: cursor.row, key: column.key, value }], name ? `${column.title} of ${name}` : "A new row", typing.seen);
    }
    go(moved(cursor, key, shift, count, columns.length));
  }

  function leave() {
    setTyping(null);
    frame.current?.focus();
  }

  function moveLine(from: number, to: number) {
    if (from < lines && to >= 0 && to < lines && to !== from && props.onMove?.(from, to)) go({ row: to, column: cursor.column });
  }

  const isFree = () => column !== undefined && !column.fixed && !isMissing?.(cursor.row);

  /** What is typed is the value, also where there is a choice: a list of its own would take another. */
  function begin(line: number, key: string, letter?: string) {
    const was = textAt(line, key);
    draft.current = letter ?? was;
    setTyping({ was, byLetter: letter !== undefined, id: idOf(line), spare: line - lines, seen: version });
  }

  function onKey(event: KeyboardEvent) {
    if (typing !== null) return;
    const control = event.ctrlKey || event.metaKey;
    if (props.onMove && event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown"))
      moveLine(cursor.row, cursor.row + (event.key === "ArrowUp" ? -1 : 1));
    else if (control && event.key.toLowerCase() === "d") write(filledDown(columns, area, textAt), "Fill down");
    else if (control && event.key.toLowerCase() === "a") {
      setAnchor({ row: 0, column: 0 });
      setCursor({ row: Math.max(0, lines - 1), column: columns.length - 1 });
    } else if (/^Arrow|^Page|^Home$|^End$/.test(event.key) && !control)
      go(moved(cursor, event.key, false, count, columns.length), event.shiftKey);
    else if (event.key === "Tab") {
      // At either end of a line Tab leaves the sheet: nobody is caught in it.
      const next = moved(cursor, "Tab", event.shiftKey, count, columns.length);
      if (next.column === cursor.column) return;
      go(next);
    } else if (event.key === "Enter" || event.key === "F2") {
      if (!column || !isFree()) return;
      begin(cursor.row, column.key);
    } else if (event.key === "Delete" || event.key === "Backspace") {
      if (area.left === 0 && props.onTakeOut) props.onTakeOut(area.top, area.bottom);
      else write(cleared(columns, area), "Clear cells");
    } else if (event.key.length === 1 && !control && column && isFree()) begin(cursor.row, column.key, event.key);
    else return;
    event.preventDefault();
  }

  function onCopy(event: ClipboardEvent) {
    if (typing !== null) return;
    event.clipboardData.setData("text/plain", toClipboard(columns, area, textAt));
    event.preventDefault();
  }

  function onPaste(event: ClipboardEvent) {
    if (typing !== null) return;
    write(pasted(columns, parseClipboard(event.clipboardData.getData("text/plain")), area), "Paste");
    event.preventDefault();
  }

  const editor = typing !== null && column && (
    <CellEditor
      title={column.title}
      draft={draft}
      choices={typing.byLetter ? undefined : choices}
      offers={typing.byLetter && choices ? choices : offersFor?.(column.key)}
      onCommit={(value, key, shift) => commit(typing.byLetter && choices ? chosen(choices, value) : value, key, shift)}
      onLeave={leave}
    />
  );
  return (
    <Box
      ref={frame}
      role="grid"
      aria-label={label}
      aria-rowcount={lines + 1}
      aria-colcount={columns.length}
      aria-activedescendant={`cell-${cursor.row}-${cursor.column}`}
      tabIndex={0}
      onKeyDown={onKey}
      onCopy={onCopy}
      onPaste={onPaste}
      sx={{
        flex: 1,
        minHeight: 0,
        overflow: "auto",
        border: 1,
        borderColor: "divider",
        borderRadius: 1,
        outlineOffset: -2,
        userSelect: "none",
        fontSize: 13.5,
      }}
    >
      <Box sx={{ width: columns.reduce((sum, one) => sum + one.width, 0), position: "relative" }}>
        <Heads columns={columns} />
        <Box role="rowgroup" sx={{ height: virtual.getTotalSize(), position: "relative" }}>
          {virtual.getVirtualItems().map((item) => {
            const line = item.index;
            const id = idOf(line);
            return (
              <GridLine
                key={item.key}
                columns={columns}
                line={line}
                top={item.start}
                id={id}
                cursor={cursor}
                area={area}
                lit={id !== undefined && lit.includes(id)}
                missing={isMissing?.(line) === true}
                dragged={props.onMove !== undefined && line < lines}
                face={(key) => faceAt?.(line, key) ?? textAt(line, key)}
                editor={editor}
                onPoint={(place, extend) => go({ row: line, column: place }, extend)}
                onExtend={(place) => !(props.onMove && anchor.column === 0) && setCursor({ row: line, column: place })}
                onOpen={(place) => begin(line, columns[place]?.key ?? "")}
                onDrop={(from) => moveLine(from, line)}
              />
            );
          })}
        </Box>
      </Box>
    </Box>
  );
}

function Heads({ columns }: { columns: readonly GridColumn[] }) {
  return (
    <Box
      role="row"
      sx={{
        display: "flex",
        position: "sticky",
        top: 0,
        zIndex: 2,
        bgcolor: "background.paper",
        borderBottom: 1,
        borderColor: "divider",
        height: 30,
      }}
    >
      {columns.map((column) => (
        <Box
          key={column.key}
          role="columnheader"
          sx={{ width: column.width, flexShrink: 0, px: 0.75, lineHeight: "30px", fontWeight: 700, fontSize: 12.5 }}
        >
          {column.title}
        </Box>
      ))}
    </Box>
  );
}
