import { Box, Button, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Edit } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { useFields } from "../../api/patch";
import { useScenes, useScenesCompared } from "../../api/show";
import { DialogButton } from "../../ui/DialogButton";
import { ChangeList } from "./ChangeList";

/** Named patches: keep the one of now, see what differs, bring one back whole or in parts. */
export function ScenesDialog({ onShow }: { onShow: (edit: Edit) => void }) {
  return (
    <DialogButton title="Scenes" maxWidth="md" columns>
      {(close) => <Scenes onShow={onShow} onDone={close} />}
    </DialogButton>
  );
}

function Scenes({ onShow, onDone }: { onShow: (edit: Edit) => void; onDone: () => void }) {
  const [name, setName] = useState("");
  const [picked, setPicked] = useState<string | null>(null);
  const [against, setAgainst] = useState("");
  const scenes = useScenes();
  const edit = useShowCommand("edits");
  const save = () => {
    edit({ label: `Keep scene ${name.trim()}`, edit: { kind: "scene", name } });
    setName("");
  };
  return (
    <>
      <Box sx={{ width: 280, flexShrink: 0 }}>
        <Box sx={{ display: "flex", gap: 1, mb: 1.5, mt: 0.5 }}>
          <TextField
            size="small"
            label="Keep the patch of now as"
            value={name}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && name.trim() && save()}
          />
          <Button variant="contained" disabled={!name.trim()} onClick={save}>
            Keep
          </Button>
        </Box>
        {scenes.data?.length === 0 && <Typography color="text.secondary">No scene is kept yet.</Typography>}
        {scenes.data?.map((scene) => (
          <Box key={scene.name} sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
            <Button
              size="small"
              color={picked === scene.name ? "primary" : "inherit"}
              sx={{ flex: 1, justifyContent: "flex-start", textAlign: "left" }}
              onClick={() => setPicked(scene.name)}
            >
              {scene.name}
              {scene.now ? " (as now)" : ""}
            </Button>
            <Button
              size="small"
              color="error"
              aria-label={`Delete scene ${scene.name}`}
              onClick={() => edit({ label: `Delete scene ${scene.name}`, edit: { kind: "scene", name: scene.name, remove: true } })}
            >
              Delete
            </Button>
          </Box>
        ))}
      </Box>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        {picked ? (
          <Compared
            scene={picked}
            against={against}
            others={(scenes.data ?? []).map((one) => one.name)}
            onAgainst={setAgainst}
            onShow={onShow}
            onDone={onDone}
          />
        ) : (
          <Typography color="text.secondary">Choose a scene to see what it would change.</Typography>
        )}
      </Box>
    </>
  );
}

interface ComparedProps {
  scene: string;
  against: string;
  others: string[];
  onAgainst: (name: string) => void;
  onShow: (edit: Edit) => void;
  onDone: () => void;
}

function Compared({ scene, against, others, onAgainst, onShow, onDone }: ComparedProps) {
  const compared = useScenesCompared(against, scene);
  const fields = useFields();
  const [chosen, setChosen] = useState<string[]>([]);
  const edit = useShowCommand("edits", onDone);
  const recall = (some: string[] | null) =>
    edit({ label: `Recall scene ${scene}${some ? " in part" : ""}`, edit: { kind: "recall", scene, fields: some } });
  return (
    <>
      <TextField
        select
        size="small"
        label={`"${scene}" against`}
        value={against}
        slotProps={{ select: { native: true }, inputLabel: { shrink: true } }}
        sx={{ mb: 1, mt: 0.5, minWidth: 220 }}
        onChange={(event) => onAgainst(event.target.value)}
      >
        <option value="">the patch of now</option>
        {others
          .filter((name) => name !== scene)
          .map((name) => (
            <option key={name} value={name}>
              {name}
            </option>
          ))}
      </TextField>
      <ChangeList changes={compared.data?.changes ?? []} labels={fields.data ?? []} chosen={chosen} onChoose={setChosen} />
      {against === "" && (compared.data?.changes.length ?? 0) > 0 && (
        <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
          <Button variant="contained" onClick={() => recall(null)}>
            Recall all of it
          </Button>
          <Button variant="outlined" disabled={chosen.length === 0} onClick={() => recall(chosen)}>
            Recall what is ticked
          </Button>
          <Button
            color="inherit"
            onClick={() => {
              onShow({ kind: "recall", scene, fields: chosen.length > 0 ? chosen : null });
              onDone();
            }}
          >
            Show it on the loom
          </Button>
        </Box>
      )}
      <Typography color="text.secondary" sx={{ fontSize: 12.5, mt: 1 }}>
        Rows that are marked safe in the input list stay as they are.
      </Typography>
    </>
  );
}
