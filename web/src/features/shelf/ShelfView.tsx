import {
  Alert,
  Box,
  Button,
  Link,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { visuallyHidden } from "@mui/utils";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link as RouterLink } from "react-router";
import { api, type ListedShow, type ShowPlace } from "../../api/client";
import { useShelf } from "../../api/shelf";
import { slug, weight } from "../../model/format";
import { FINGER_PX, FINGERS } from "../../theme/theme";
import { May } from "../../ui/May";
import { useNotice } from "../../ui/notice";
import { StepHead } from "../../ui/StepHead";
import { useSettled } from "../../ui/useSettled";
import { useWidth } from "../../ui/useWidth";
import { DeleteShow } from "./DeleteShow";
import { Lately } from "./Lately";
import { NewShow } from "./NewShow";
import { PlaysOn } from "./PlaysOn";

const A_PAGE = 50;
/** So few shows leave room under them. */
const FEW = 6;
const places: { key: ShowPlace; label: string }[] = [
  { key: "at_hand", label: "At hand" },
  { key: "archived", label: "Archive" },
  { key: "bin", label: "Bin" },
];
const empty: Record<ShowPlace, string> = {
  at_hand: "No show yet. Make the first one: from nothing, from a template or from a show file.",
  archived: "Nothing is archived. What is not needed for now can be put here, with its takes.",
  bin: "The bin is empty. Shows wait here for 30 days; one that holds takes stays until somebody deletes it by name.",
};

/** All shows: what they are called, what is open in them, what their takes weigh. */
export function ShelfView() {
  const [place, setPlace] = useState<ShowPlace>("at_hand");
  const [search, setSearch] = useState("");
  const [shown, setShown] = useState(A_PAGE);
  const shelf = useShelf(place, useSettled(search) ?? "", Math.min(shown, 200));
  const shows = shelf.data?.shows ?? [];
  const phone = useWidth() === "phone";
  const seated = shows.find(({ id }) => id === shelf.data?.on_air);
  const left = (shelf.data?.count ?? 0) - shows.length;
  return (
    <Box component="main" sx={{ flex: 1, minHeight: 0, overflow: "auto", maxWidth: 1180, width: "100%", mx: "auto", pb: 3 }}>
      <StepHead title="Shows">
        <May what="operate">
          <NewShow copies={shows} />
        </May>
        <Box sx={{ flex: 1 }} />
        <TextField size="small" label="Name, venue or date" value={search} onChange={({ target }) => setSearch(target.value)} />
        <ToggleButtonGroup
          exclusive
          size="small"
          value={place}
          onChange={(_, value) => value && setPlace(value)}
          aria-label="Which shows are listed"
        >
          {places.map(({ key, label }) => (
            <ToggleButton key={key} value={key}>
              {label}
              {shelf.data && shelf.data.counts[key] > 0 ? ` ${shelf.data.counts[key]}` : ""}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </StepHead>
      {shelf.error && <Alert severity="error">{shelf.error.message}</Alert>}
      {shelf.data && shows.length === 0 && (
        <Typography color="text.secondary" sx={{ px: 2, pt: 2 }}>
          {search.trim() ? `No show here has "${search.trim()}" in its name, venue or date.` : empty[place]}
        </Typography>
      )}
      {shows.length > 0 && phone && shows.map((show) => <ShelfCard key={show.id} show={show} onAir={shelf.data?.on_air === show.id} />)}
      {shows.length > 0 && !phone && (
        <Table size="small" aria-label="Shows">
          <TableHead>
            <TableRow>
              <TableCell>Show</TableCell>
              <TableCell>Plays on</TableCell>
              <TableCell>Open in it</TableCell>
              <TableCell>Takes</TableCell>
              <TableCell>Last changed</TableCell>
              <TableCell>
                <Box component="span" sx={visuallyHidden}>
                  Put it elsewhere
                </Box>
              </TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {shows.map((show) => (
              <ShelfRow key={show.id} show={show} onAir={shelf.data?.on_air === show.id} />
            ))}
          </TableBody>
        </Table>
      )}
      {left > 0 && (
        <Button color="inherit" onClick={() => setShown((count) => count + A_PAGE)} sx={{ m: 1 }}>
          {left} more, older
        </Button>
      )}
      {seated && shows.length <= FEW && <Lately show={seated} />}
    </Box>
  );
}

/** "2 stop · 3 other": what the findings drawer would list. */
function openIn(show: ListedShow): string {
  if (!show.findings) return "not looked at yet";
  const { stop, warn, note } = show.findings;
  const parts = [stop ? `${stop} stop` : "", warn ? `${warn} likely a mistake` : "", note ? `${note} worth knowing` : ""].filter(Boolean);
  return parts.length > 0 ? parts.join(" · ") : "nothing";
}

const moment = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric", hour: "2-digit", minute: "2-digit" });

/** One show where there is no room for a table: putting it elsewhere is done at a wider page. */
function ShelfCard({ show, onAir }: { show: ListedShow; onAir: boolean }) {
  return (
    <Box data-show={show.id} sx={{ px: 2, py: 1, borderBottom: 1, borderColor: "divider", lineHeight: 1.4 }}>
      <ShowName show={show} onAir={onAir} />
      <Box sx={{ color: show.findings && show.findings.stop > 0 ? "error.main" : "text.secondary" }}>{openIn(show)}</Box>
      <Box sx={{ color: "text.secondary", fontSize: 13 }}>
        {show.takes === 0 ? "no takes" : `${show.takes} ${show.takes === 1 ? "take" : "takes"}, ${weight(show.bytes)}`} ·{" "}
        {show.place === "bin" ? `${show.bin_days_left} days left` : moment.format(new Date(show.changed_at))}
      </Box>
    </Box>
  );
}

function ShowName({ show, onAir }: { show: ListedShow; onAir: boolean }) {
  return (
    <>
      {show.place === "bin" ? (
        <strong>{show.name}</strong>
      ) : (
        <Link
          component={RouterLink}
          to={`/shows/${slug(show.id, show.name)}/rig`}
          color="inherit"
          sx={{ fontWeight: 700, [FINGERS]: { display: "inline-flex", alignItems: "center", minHeight: FINGER_PX, minWidth: FINGER_PX } }}
        >
          {show.name}
        </Link>
      )}
      {onAir && (
        <Box
          component="span"
          sx={{ ml: 1, px: 0.75, borderRadius: 1, border: 1, borderColor: "success.main", color: "success.main", fontSize: 12 }}
        >
          on air
        </Box>
      )}
      <Box sx={{ color: "text.secondary", fontSize: 12.5 }}>{show.venue || "no venue"}</Box>
    </>
  );
}

function ShelfRow({ show, onAir }: { show: ListedShow; onAir: boolean }) {
  const put = usePut();
  return (
    <TableRow hover data-show={show.id}>
      <TableCell sx={{ maxWidth: 360 }}>
        <ShowName show={show} onAir={onAir} />
      </TableCell>
      <TableCell sx={{ whiteSpace: "nowrap" }}>
        <PlaysOn show={show} />
      </TableCell>
      <TableCell sx={{ color: show.findings && show.findings.stop > 0 ? "error.main" : "text.secondary" }}>{openIn(show)}</TableCell>
      <TableCell sx={{ whiteSpace: "nowrap" }}>{show.takes === 0 ? "none" : `${show.takes}, ${weight(show.bytes)}`}</TableCell>
      <TableCell sx={{ whiteSpace: "nowrap", color: "text.secondary" }}>
        {show.place === "bin" ? `${show.bin_days_left} days left` : moment.format(new Date(show.changed_at))}
      </TableCell>
      <TableCell align="right" sx={{ whiteSpace: "nowrap" }}>
        <May what="lead">
          {show.place === "at_hand" ? (
            <Button size="small" color="inherit" disabled={onAir} onClick={() => put(show, "archived")}>
              Archive
            </Button>
          ) : (
            <Button size="small" color="inherit" onClick={() => put(show, "at_hand")}>
              Bring back
            </Button>
          )}
          {show.place === "bin" ? (
            <DeleteShow show={show} />
          ) : (
            <Button
              size="small"
              color="inherit"
              disabled={onAir}
              onClick={() => put(show, "bin")}
              aria-label={`Put ${show.name} into the bin`}
            >
              Bin
            </Button>
          )}
        </May>
      </TableCell>
    </TableRow>
  );
}

/** Puts a show somewhere else, and says where it went with the way back. */
function usePut() {
  const client = useQueryClient();
  const { say } = useNotice();
  const where: Record<ShowPlace, string> = { at_hand: "is at hand again", archived: "is in the archive", bin: "is in the bin" };
  const put = useMutation({
    mutationFn: ({ show, place }: { show: ListedShow; place: ShowPlace }) => api.put(`/api/shows/${show.id}/place`, { place }),
    onSuccess: (_, { show, place }) =>
      say(`${show.name} ${where[place]}.`, "success", {
        label: "Undo",
        onAct: () => put.mutate({ show: { ...show, place }, place: show.place }),
      }),
    onError: (error) => say(error.message, "error"),
    onSettled: () => client.invalidateQueries({ queryKey: ["shelf"] }),
  });
  return (show: ListedShow, place: ShowPlace) => put.mutate({ show, place });
}
