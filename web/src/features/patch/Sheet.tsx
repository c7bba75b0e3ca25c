import type { Row } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import type { Typed } from "../../model/grid";
import { type Column, columns, editOf, type Socket, text, writingOf } from "../../model/sheet";
import { Grid } from "../../ui/grid/Grid";
import { useNotice } from "../../ui/notice";
import { Swatch } from "../../ui/Swatch";

/** Lines that wait under the list for new rows. */
const SPARE_LINES = 8;

interface Props {
  version: number;
  rows: Row[];
  sockets: Socket[];
  follow: boolean;
  lit: string[];
}

/** The input list as a sheet: a line a source. */
export function Sheet({ version: now, rows, sockets, follow, lit }: Props) {
  const { say } = useNotice();
  const edit = useShowCommand("edits");

  function write(typed: Typed[], label: string, version: number) {
    const made = editOf(rows, typed, sockets);
    if ("fault" in made) say(made.fault, "error");
    else edit({ label: writingOf(rows[typed[0]?.row ?? -1], typed, label), edit: made.edit, version });
  }

  function moveRow(from: number, to: number): boolean {
    const row = rows[from];
    if (row) edit({ label: `Move ${row.name}`, edit: { kind: "move_rows", rows: [row.id], to: to + 1, follow } });
    return row !== undefined;
  }

  /** With the number chosen, Delete takes the row itself out. */
  function takeOut(from: number, to: number) {
    const gone = rows.slice(from, to + 1);
    if (gone.length > 0)
      edit({
        label: `Take out ${gone.map((row) => row.name).join(", ")}`.slice(0, 200),
        edit: { kind: "rows", rows: Object.fromEntries(gone.map((row) => [row.id, null])) },
      });
  }

  const textAt = (line: number, key: string) => {
    const row = rows[line];
    return row ? text(row, key as Column) : "";
  };
  return (
    <Grid
      label="Input list"
      columns={columns}
      lines={rows.length}
      spare={SPARE_LINES}
      textAt={textAt}
      faceAt={(line, key) => rows[line] && <Face row={rows[line]} column={key as Column} />}
      offersFor={(key) => (key === "socket" ? sockets.map(({ label }) => label) : undefined)}
      idOf={(line) => rows[line]?.id}
      nameOf={(line) => rows[line]?.name}
      lit={lit}
      version={now}
      onWrite={write}
      onMove={moveRow}
      onTakeOut={takeOut}
    />
  );
}

/** Wanted and given phantom power are told apart: "yes" alone is not yet on. */
function Face({ row, column }: { row: Row; column: Column }) {
  if (column === "number")
    return (
      <>
        <Swatch colour={row.colour} stitch={row.stitch} />
        {row.number}
      </>
    );
  if (column === "phantom") return row.phantom === "yes" && !row.powered ? "yes, off" : row.phantom === "no" ? "" : row.phantom;
  if (column === "safe") return row.safe ? "safe" : "";
  if (column === "kind") return row.kind === "microphone" ? "mic" : row.kind;
  return text(row, column);
}
