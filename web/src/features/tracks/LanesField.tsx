import { Autocomplete, TextField } from "@mui/material";
import type { RoleTable } from "../../api/client";

type Lane = RoleTable["lanes"][number];

interface Props {
  label: string;
  lanes: Lane[];
  /** Ids of those that it is on. */
  value: string[];
  /** Who is on it itself: not said to be taken. */
  self: string;
  onChange: (lanes: string[]) => void;
}

/** One lane, or two: left and right in the order of their numbers. */
export function LanesField({ label, lanes, value, self, onChange }: Props) {
  const several = new Set(lanes.map(({ device }) => device)).size > 1;
  const words = (lane: Lane) => (several ? `${lane.device} ${lane.number}` : String(lane.number));
  const chosen = value.flatMap((id) => lanes.filter((lane) => lane.id === id));
  return (
    <Autocomplete
      multiple
      size="small"
      options={lanes}
      value={chosen}
      disableCloseOnSelect
      getOptionLabel={words}
      getOptionDisabled={(lane) =>
        chosen.some((one) => one.device !== lane.device) || (chosen.length >= 2 && !chosen.some((one) => one.id === lane.id))
      }
      isOptionEqualToValue={(one, other) => one.id === other.id}
      onChange={(_, now) => onChange(now.map(({ id }) => id).sort((one, other) => number(one) - number(other)))}
      renderOption={(props, lane) => (
        <li {...props} key={lane.id}>
          <span>
            <strong>{words(lane)}</strong>
            {lane.leads && ` to ${lane.leads}`}
            {lane.takes && lane.takes !== self && <em> – takes {lane.takes_label}</em>}
          </span>
        </li>
      )}
      renderInput={(props) => (
        <TextField
          {...props}
          placeholder={chosen.length ? "" : "on no lane"}
          slotProps={{ ...props.slotProps, htmlInput: { ...props.slotProps.htmlInput, "aria-label": label } }}
        />
      )}
      sx={{ width: 190 }}
    />
  );
}

const number = (id: string) => Number(id.split("/").at(-1));
