/** A sheet of cells, whatever stands in them: selection, and what typing or pasting means. Pure. */
export interface GridColumn {
  key: string;
  title: string;
  width: number;
  /** What a cell may say; none for free text. */
  choices?: readonly string[];
  /** Is shown, and cannot be written. */
  fixed?: boolean;
  /** May not be empty. */
  needed?: boolean;
  /** Filled down, its number counts on: no two lines take the same place. */
  counts?: boolean;
}

export interface Cell {
  row: number;
  column: number;
}

export interface Span {
  top: number;
  bottom: number;
  left: number;
  right: number;
}

/** A cell to write: its line, its column, and what was typed. */
export interface Typed {
  row: number;
  key: string;
  value: string;
}

export type TextAt = (row: number, key: string) => string;

/** The cells between where a selection began and where it is now. */
export const span = (from: Cell, to: Cell): Span => ({
  top: Math.min(from.row, to.row),
  bottom: Math.max(from.row, to.row),
  left: Math.min(from.column, to.column),
  right: Math.max(from.column, to.column),
});

export const covers = (area: Span, row: number, column: number): boolean =>
  row >= area.top && row <= area.bottom && column >= area.left && column <= area.right;

/** Where an arrow, Tab or Enter leads, never off the sheet. */
export function moved(cell: Cell, key: string, shift: boolean, rows: number, columns: number): Cell {
  const steps: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
    Enter: [shift ? -1 : 1, 0],
    Tab: [0, shift ? -1 : 1],
    Home: [0, -columns],
    End: [0, columns],
    PageUp: [-15, 0],
    PageDown: [15, 0],
  };
  const [down, right] = steps[key] ?? [0, 0];
  return { row: clamp(cell.row + down, rows - 1), column: clamp(cell.column + right, columns - 1) };
}

const clamp = (value: number, most: number) => Math.max(0, Math.min(most, value));

/** A spreadsheet's clipboard: tabs between cells, line ends between rows, quotes where a cell has either. */
export function parseClipboard(clip: string): string[][] {
  const rows: string[][] = [[]];
  let cell = "";
  let quoted = false;
  const body = clip.replace(/\r\n?/g, "\n").replace(/\n$/, "");
  for (let i = 0; i < body.length; i += 1) {
    const character = body.charAt(i);
    if (quoted && character === '"' && body.charAt(i + 1) === '"') {
      cell += '"';
      i += 1;
    } else if (character === '"' && (quoted || cell === "")) quoted = !quoted;
    else if (!quoted && (character === "\t" || character === "\n")) {
      rows[rows.length - 1]?.push(cell);
      if (character === "\n") rows.push([]);
      cell = "";
    } else cell += character;
  }
  rows[rows.length - 1]?.push(cell);
  return rows;
}

export function toClipboard(columns: readonly GridColumn[], area: Span, textAt: TextAt): string {
  return rowsOf(area)
    .map((row) =>
      columns
        .slice(area.left, area.right + 1)
        .map(({ key }) => quote(textAt(row, key)))
        .join("\t"),
    )
    .join("\n");
}

const rowsOf = (area: Span) => Array.from({ length: area.bottom - area.top + 1 }, (_, i) => area.top + i);
const quote = (value: string) => (/[\t\n"]/.test(value) ? `"${value.replaceAll('"', '""')}"` : value);

/** A pasted block, from a cell on; one cell fills a whole selection. Columns that cannot be written are passed over. */
export function pasted(columns: readonly GridColumn[], block: string[][], area: Span): Typed[] {
  const single = block.length === 1 && block[0]?.length === 1;
  const height = single ? area.bottom - area.top + 1 : block.length;
  const out: Typed[] = [];
  for (let down = 0; down < height; down += 1) {
    const line = single ? Array<string>(area.right - area.left + 1).fill(block[0]?.[0] ?? "") : (block[down] ?? []);
    line.forEach((value, right) => {
      const column = columns[area.left + right];
      if (column && !column.fixed) out.push({ row: area.top + down, key: column.key, value });
    });
  }
  return out;
}

/** The top line of a selection, written into every line under it; places count on from it. */
export function filledDown(columns: readonly GridColumn[], area: Span, textAt: TextAt): Typed[] {
  return rowsOf(area)
    .slice(1)
    .flatMap((row) =>
      columns.slice(area.left, area.right + 1).flatMap((column) => {
        const first = textAt(area.top, column.key);
        if (column.fixed) return [];
        return [{ row, key: column.key, value: column.counts ? countedOn(first, row - area.top) : first }];
      }),
    );
}

/** "Box A socket 7" two further on is "Box A socket 9". */
const countedOn = (text: string, by: number) => text.replace(/\d+$/, (number) => String(Number(number) + by));

/** Nothing in every cell that may be empty. */
export function cleared(columns: readonly GridColumn[], area: Span): Typed[] {
  return rowsOf(area).flatMap((row) =>
    columns
      .slice(area.left, area.right + 1)
      .filter((column) => !column.fixed && !column.choices && !column.needed)
      .map(({ key }) => ({ row, key, value: "" })),
  );
}

/** The choice that somebody typed: as it is written, or the only one that begins so; else what was typed, which is refused in words. */
export function chosen(choices: readonly string[], typed: string): string {
  const plain = typed.trim().toLowerCase();
  const begins = choices.filter((choice) => choice.toLowerCase().startsWith(plain));
  return (
    choices.find((choice) => choice.toLowerCase() === plain) ??
    (begins.length === 1 && plain !== "" ? begins[0] : undefined) ??
    typed.trim()
  );
}
