import { Box } from "@mui/material";
import type { DragEvent, ReactNode } from "react";
import { type Cell, covers, type GridColumn, type Span } from "../../model/grid";

export const ROW_HEIGHT = 32;

interface Props {
  columns: readonly GridColumn[];
  line: number;
  top: number;
  id?: string;
  cursor: Cell;
  area: Span;
  lit: boolean;
  /** The line cannot be used on this model. */
  missing: boolean;
  /** Its first cell can be dragged to another place. */
  dragged: boolean;
  face: (key: string) => ReactNode;
  /** What stands in the cursor's cell while one types. */
  editor: ReactNode;
  onPoint: (column: number, extend: boolean) => void;
  onExtend: (column: number) => void;
  onOpen: (column: number) => void;
  onDrop: (from: number) => void;
}

/** One line of a sheet, as it is drawn while it is in sight. */
export function GridLine({ columns, line, top, id, cursor, area, lit, missing, dragged, face, editor, ...on }: Props) {
  return (
    <Box
      role="row"
      aria-rowindex={line + 2}
      data-row={id}
      sx={{
        display: "flex",
        position: "absolute",
        top,
        height: ROW_HEIGHT,
        borderBottom: 1,
        borderColor: "divider",
        bgcolor: lit ? "action.selected" : undefined,
      }}
      onDragOver={(event: DragEvent) => event.preventDefault()}
      onDrop={(event: DragEvent) => on.onDrop(Number(event.dataTransfer.getData("text/plain")))}
    >
      {columns.map((column, place) => {
        const here = cursor.row === line && cursor.column === place;
        const chosen = covers(area, line, place);
        const handle = dragged && place === 0;
        return (
          <Box
            key={column.key}
            id={`cell-${line}-${place}`}
            role="gridcell"
            aria-colindex={place + 1}
            aria-selected={chosen}
            draggable={handle}
            onDragStart={(event: DragEvent) => event.dataTransfer.setData("text/plain", String(line))}
            onMouseDown={(event) => event.button === 0 && on.onPoint(place, event.shiftKey)}
            onMouseEnter={(event) => event.buttons === 1 && on.onExtend(place)}
            onDoubleClick={() => !column.fixed && !missing && on.onOpen(place)}
            sx={{
              width: column.width,
              flexShrink: 0,
              px: 0.75,
              display: "flex",
              gap: 0.75,
              alignItems: "center",
              overflow: "hidden",
              whiteSpace: "nowrap",
              borderRight: 1,
              borderColor: "divider",
              color: column.fixed || missing ? "text.secondary" : "text.primary",
              bgcolor: chosen ? "action.hover" : undefined,
              boxShadow: here ? "inset 0 0 0 2px var(--mui-palette-primary-main)" : "none",
              cursor: handle ? "grab" : "cell",
            }}
          >
            {here && editor ? editor : <Face of={face(column.key)} />}
          </Box>
        );
      })}
    </Box>
  );
}

/** A text that is too long for its cell says so. */
const Face = ({ of }: { of: ReactNode }) =>
  typeof of === "string" ? <span style={{ overflow: "hidden", textOverflow: "ellipsis" }}>{of}</span> : of;
