import { ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { useShow } from "../../api/show";
import { deskFor } from "../../model/patchFaces";

type Desks = { id: string; name: string }[];

/** Which desk's looms are shown: the first, until another is chosen or a finding is about it. */
export function useDeskChoice(lit: string[]): { desk: string | null; desks: Desks; setDesk: (desk: string) => void } {
  const desks = useShow().data?.desks ?? [];
  const desksNow = useRef(desks);
  desksNow.current = desks;
  const [chosen, setDesk] = useState<string | null>(null);
  useEffect(() => {
    if (lit.length > 0) setDesk((now) => deskFor(lit, desksNow.current) ?? now);
  }, [lit]);
  return { desk: desks.find(({ id }) => id === chosen)?.id ?? desks[0]?.id ?? null, desks, setDesk };
}

/** Nothing where there is no choice. */
export function DeskChoice({ desk, desks, onDesk }: { desk: string | null; desks: Desks; onDesk: (desk: string) => void }) {
  if (desks.length < 2) return null;
  return (
    <ToggleButtonGroup
      size="small"
      exclusive
      value={desk}
      aria-label="Desk"
      sx={{ px: 2 }}
      onChange={(_, value: string | null) => value && onDesk(value)}
    >
      {desks.map((one) => (
        <ToggleButton key={one.id} value={one.id}>
          {one.name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
