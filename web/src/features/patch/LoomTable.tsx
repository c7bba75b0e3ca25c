import { Table, TableBody, TableCell, TableHead, TableRow } from "@mui/material";
import type { Loom } from "../../api/client";

/** The loom's content as a table: a line a source, with every place that it passes. */
export function LoomTable({ loom }: { loom: Loom }) {
  const rows = loom.posts[0]?.knots ?? [];
  return (
    <Table size="small" stickyHeader aria-label="Patch table">
      <TableHead>
        <TableRow>
          {loom.posts.map((post) => (
            <TableCell key={post.key} sx={{ fontWeight: 700 }}>
              {post.title}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((row) => (
          <TableRow key={row.id}>
            {loom.posts.map((post, i) => (
              <TableCell key={post.key}>
                {i === 0
                  ? `${row.number} ${row.label}`
                  : post.knots
                      .filter((knot) => knot.row === row.id)
                      .map((knot) => knot.label)
                      .join(", ") || "—"}
              </TableCell>
            ))}
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
