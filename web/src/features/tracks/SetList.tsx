import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { arrayMove, SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import DragIndicator from "@mui/icons-material/DragIndicator";
import { Alert, Box, Button, IconButton, Typography } from "@mui/material";
import { useState } from "react";
import type { Show, Song } from "../../api/client";
import { useCommand } from "../../api/command";
import { useShowCommand } from "../../api/edits";
import { useFrame } from "../../api/live";
import { useMay } from "../../api/may";
import { minutes } from "../../model/format";
import { afterWords, listedWords, setLength } from "../../model/setList";
import { useWidth } from "../../ui/useWidth";
import { BounceDialog } from "./BounceDialog";
import { EntryDialog } from "./EntryDialog";
import { LevelsDialog } from "./LevelsDialog";
import { SongDialog } from "./SongDialog";

/** The songs of the evening, put in order by drag or, on a handle, by Space and the arrow keys. */
export function SetList({ show }: { show: Show }) {
  const edit = useShowCommand("edits");
  const operates = useMay("operate");
  const phone = useWidth() === "phone";
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const [open, setOpen] = useState<string | null>(null);
  const [entry, setEntry] = useState<string | null>(null);
  const ids = show.songs.map(({ id }) => id);
  // What is told to whoever does not see it: titles and places, no ids.
  const title = (id: UniqueIdentifier) => show.songs.find((song) => song.id === id)?.title ?? "The song";
  const place = (over: { id: UniqueIdentifier } | null) => (over ? ` at place ${ids.indexOf(String(over.id)) + 1}` : "");
  const announcements = {
    onDragStart: ({ active }: { active: { id: UniqueIdentifier } }) => `${title(active.id)} is picked up.`,
    onDragOver: ({ active, over }: { active: { id: UniqueIdentifier }; over: { id: UniqueIdentifier } | null }) =>
      `${title(active.id)} is held${place(over)}.`,
    onDragEnd: ({ active, over }: { active: { id: UniqueIdentifier }; over: { id: UniqueIdentifier } | null }) =>
      `${title(active.id)} is laid down${place(over)}.`,
    onDragCancel: ({ active }: { active: { id: UniqueIdentifier } }) => `${title(active.id)} stays where it was.`,
  };
  const order = (songs: string[], label: string) => edit({ label, edit: { kind: "set_list", songs } });
  const dropped = ({ active, over }: DragEndEvent) => {
    if (!over || active.id === over.id) return;
    const moved = show.songs.find(({ id }) => id === active.id);
    order(arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))), `Move ${moved?.title} in the set list`);
  };
  const entered = show.songs.find(({ id }) => id === entry);
  const length = setLength(show.songs);
  if (show.songs.length === 0) return <Alert severity="info">No songs yet. Add some of the library, or make a new one.</Alert>;
  return (
    <>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={dropped}
        accessibility={{
          announcements,
          screenReaderInstructions: {
            draggable: "Space picks the song up, the arrow keys move it, Space lays it down, Escape lets it be.",
          },
        }}
      >
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          {show.songs.map((song, at) => (
            <SongCard
              key={song.id}
              song={song}
              number={at + 1}
              last={at === show.songs.length - 1}
              onOpen={() => setOpen(song.id)}
              onEntry={() => setEntry(song.id)}
              onRemove={() =>
                order(
                  ids.filter((id) => id !== song.id),
                  `Take ${song.title} out of the set list`,
                )
              }
            />
          ))}
        </SortableContext>
      </DndContext>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 0.75 }}>
        <Typography color="text.secondary" sx={{ fontSize: 13, flex: 1 }} data-testid="set-length">
          {show.songs.length} {show.songs.length === 1 ? "song" : "songs"}, {minutes(length.music_s)}
          {length.all_s > length.music_s ? ` of music, ${minutes(length.all_s)} with all between` : ""}
        </Typography>
        {operates && !phone && (
          <>
            <LevelsDialog />
            <BounceDialog show={show} />
          </>
        )}
      </Box>
      {entered && <EntryDialog song={entered} onClose={() => setEntry(null)} />}
      {open && <SongDialog id={open} onClose={() => setOpen(null)} />}
    </>
  );
}

interface CardProps {
  song: Song;
  number: number;
  last: boolean;
  onOpen: () => void;
  onEntry: () => void;
  onRemove: () => void;
}

function SongCard({ song, number, last, onOpen, onEntry, onRemove }: CardProps) {
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({ id: song.id });
  const operates = useMay("operate");
  const phone = useWidth() === "phone";
  const play = useCommand(`songs/${song.id}/play`);
  const stop = useCommand("/api/playing/stop");
  const playing = useFrame((frame) => frame.deck?.playing?.key === `song/${song.id}`);
  const bar = useFrame((frame) => (playing ? (frame.deck?.playing?.place?.[0] ?? null) : null));
  const beat = useFrame((frame) => (playing ? (frame.deck?.playing?.place?.[1] ?? null) : null));
  const evening = [listedWords(song.listed), last ? "" : afterWords(song.listed)].filter(Boolean).join(" · ");
  return (
    <Box
      ref={setNodeRef}
      data-song={song.id}
      style={transform ? { transform: `translate3d(0, ${transform.y}px, 0)`, ...(transition ? { transition } : {}) } : {}}
      sx={{
        bgcolor: "background.paper",
        borderRadius: 1,
        p: 0.75,
        mb: 0.75,
        display: "flex",
        alignItems: "center",
        gap: 1,
        opacity: isDragging ? 0.6 : 1,
        position: "relative",
        zIndex: isDragging ? 1 : 0,
      }}
    >
      {operates && (
        <IconButton
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          size="small"
          aria-label={`Move ${song.title}`}
          sx={{ cursor: "grab", touchAction: "none" }}
        >
          <DragIndicator fontSize="small" />
        </IconButton>
      )}
      <Typography color="text.secondary" sx={{ width: 22, textAlign: "right" }}>
        {number}
      </Typography>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            {operates ? (
              <Button
                color="inherit"
                size="small"
                onClick={onOpen}
                sx={{ fontWeight: 700, p: 0, minHeight: phone ? 44 : 24, minWidth: 0, textAlign: "left" }}
              >
                {song.title}
              </Button>
            ) : (
              <strong>{song.title}</strong>
            )}
          </Box>
          {operates && !phone && (
            <>
              <Button size="small" color="inherit" onClick={onEntry} aria-label={`Tonight: ${song.title}`} sx={{ minWidth: 0 }}>
                Tonight
              </Button>
              <Button size="small" color="inherit" onClick={onRemove} aria-label={`Take out ${song.title}`} sx={{ minWidth: 0 }}>
                Take out
              </Button>
            </>
          )}
          {!operates ? null : !playing ? (
            <Button variant="contained" size="small" onClick={() => play.mutate({})} aria-label={`Play ${song.title}`}>
              Play
            </Button>
          ) : (
            <Button variant="outlined" size="small" onClick={() => stop.mutate({})}>
              Stop
            </Button>
          )}
        </Box>
        <Typography color="text.secondary" sx={{ fontSize: 13 }}>
          {song.bpm === null ? "no click" : `${Math.round(song.bpm * 100) / 100} bpm in ${song.beats_per_bar}`},{" "}
          {minutes(song.playing_frames / song.sample_rate_hz)} · {song.roles.join(", ")}
        </Typography>
        {evening && <Typography sx={{ fontSize: 13 }}>{evening}</Typography>}
        {song.lost_arrangement !== null && (
          <Typography color="error" sx={{ fontSize: 13 }}>
            It has no arrangement {song.lost_arrangement} any more, and cannot be played.
          </Typography>
        )}
        {bar !== null && <Typography sx={{ fontSize: 13 }}>{bar < 1 ? `counted in, beat ${beat}` : `bar ${bar}, beat ${beat}`}</Typography>}
      </Box>
    </Box>
  );
}
