import { Autocomplete, TextField } from "@mui/material";
import { useRoles } from "../../api/library";
import { dashed } from "../../model/format";

interface Props {
  role: string;
  label: string;
  onChange: (role: string) => void;
}

/** A role of the library, or a new name. */
export function RoleField({ role, label, onChange }: Props) {
  const roles = useRoles();
  const change = (text: string | null) => {
    const name = dashed(text ?? "");
    if (name && name !== role) onChange(name);
  };
  return (
    <Autocomplete
      freeSolo
      disableClearable
      size="small"
      options={roles.data?.map(({ name }) => name) ?? []}
      value={role}
      onChange={(_, value) => change(value)}
      onBlur={({ target }) => change((target as HTMLInputElement).value)}
      renderInput={(props) => (
        <TextField {...props} slotProps={{ ...props.slotProps, htmlInput: { ...props.slotProps.htmlInput, "aria-label": label } }} />
      )}
      sx={{ width: 190 }}
    />
  );
}
