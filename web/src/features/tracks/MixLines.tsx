import { Box, Button, Checkbox, Typography } from "@mui/material";
import type { RoleTable } from "../../api/client";
import { useShowCommand } from "../../api/edits";
import { freshId } from "../../model/freshId";
import { dbWords, laid, laneNumber, laneWords, type MixLine, members } from "../../model/roles";
import { Figure } from "../../ui/KeptField";
import { NameField } from "../../ui/NameField";
import { LanesField } from "./LanesField";

/** Roles together, each at a level, laid on lanes like a role. */
export function MixLines({ table }: { table: RoleTable }) {
  const edit = useShowCommand("edits");
  const add = () => {
    const taken = table.mixes.map(({ name }) => name);
    const name = ["Mix", ...Array.from({ length: 64 }, (_, at) => `Mix ${at + 2}`)].find((one) => !taken.includes(one)) ?? "Mix";
    edit({ label: `New mix of roles: ${name}`, edit: { kind: "mix", mix: freshId(), name, members: {} } });
  };
  return (
    <Box component="section" aria-label="Mixes of roles" sx={{ mt: 3 }}>
      <Typography variant="subtitle2">Mixes of roles</Typography>
      <Typography variant="body2" sx={{ color: "text.secondary", mb: 1 }}>
        Everything for the stream, the band inside the drummer's click, roles that share a lane: each role at a level of its own.
      </Typography>
      {table.mixes.map((mix) => (
        <Mix key={mix.id} mix={mix} table={table} />
      ))}
      <Button variant="outlined" color="inherit" size="small" onClick={add}>
        New mix of roles
      </Button>
    </Box>
  );
}

function Mix({ mix, table }: { mix: MixLine; table: RoleTable }) {
  const edit = useShowCommand("edits");
  const { id, name } = mix;
  const keep = (words: string, change: { name?: string; members?: Record<string, number>; pair?: boolean }) =>
    edit({ label: `${name}: ${words}`, edit: { kind: "mix", mix: id, ...change } });
  const level = (role: string, level_db: number | null) => {
    const { [role]: _, ...others } = mix.members;
    const now = level_db === null ? others : { ...mix.members, [role]: level_db };
    keep(level_db === null ? `without ${role}` : `${role} at ${dbWords(level_db)}`, { members: members(now) });
  };
  return (
    <Box
      component="section"
      aria-label={`Mix ${name}`}
      sx={{ border: 1, borderColor: "divider", borderRadius: 1, p: 1.5, mb: 1.5, display: "grid", gap: 1.5 }}
    >
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        <NameField
          name={name}
          label={`Name of mix ${name}`}
          onRename={(given) => keep(`is called ${given}`, { name: given })}
          sx={{ flex: "0 1 220px", fontWeight: 600 }}
        />
        <LanesField
          label={`Mix ${name} on lanes`}
          lanes={table.lanes}
          value={mix.lanes}
          self={mix.endpoint}
          onChange={(lanes) =>
            edit({ label: `${name} on ${laneWords(lanes.map(laneNumber))}`, edit: laid(mix.endpoint, mix.lanes, lanes) })
          }
        />
        <Typography variant="body2" sx={{ color: "text.secondary", flex: 1 }}>
          {mix.lanes.length === 0 ? "On no lane yet" : mix.heard.length > 0 ? `Heard at ${mix.heard.join(", ")}` : "Heard by nobody"}
        </Typography>
        <Button
          color="inherit"
          size="small"
          onClick={() => edit({ label: `Remove the mix ${name}`, edit: { kind: "remove_mix", mix: id } })}
        >
          Remove
        </Button>
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(220px, 1fr))", columnGap: 2 }}>
        {table.roles.map((role) => {
          const held = mix.members[role.name];
          return (
            <Box key={role.name} sx={{ display: "flex", alignItems: "center", minHeight: 44 }}>
              <Checkbox
                size="small"
                checked={held !== undefined}
                onChange={(_, on) => level(role.name, on ? 0 : null)}
                slotProps={{ input: { "aria-label": `${role.name} in ${name}` } }}
              />
              <Box component="span" sx={{ flex: 1, color: held === undefined ? "text.secondary" : "text.primary" }}>
                {role.name}
              </Box>
              {held !== undefined && (
                <Figure
                  bare
                  label={`Level of ${role.name} in ${name}, dB`}
                  value={held}
                  least={-60}
                  most={12}
                  width={76}
                  onKeep={(db) => level(role.name, db)}
                />
              )}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}
