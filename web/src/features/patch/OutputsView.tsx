import { Suspense, useState } from "react";
import type { Edit } from "../../api/client";
import { useMay } from "../../api/may";
import { loomName } from "../../model/patchFaces";
import { later } from "../../ui/later";
import { StepHead } from "../../ui/StepHead";
import { UndoRedo } from "../../ui/UndoRedo";
import { useWidth } from "../../ui/useWidth";
import { DeskChoice, useDeskChoice } from "./DeskChoice";
import { PlaceList } from "./PlaceList";

const LoomFace = later(() => import("./LoomFace").then((part) => part.LoomFace), { wide: true });

/** From mixes to listeners: which output takes what, where it leaves, and who hears it. Tap and delay are set at the place. */
export function OutputsView({ lit }: { lit: string[] }) {
  const operates = useMay("operate");
  const phone = useWidth() === "phone";
  const { desk, desks, setDesk } = useDeskChoice(lit);
  const [shown, setShown] = useState<Edit | null>(null);
  const loom = loomName("outputs", desk, desks.length);
  return (
    <>
      <StepHead title="Outputs" {...(phone ? {} : { hint: "Point at an output to set its tap and its delay under the loom." })}>
        {operates && <UndoRedo />}
      </StepHead>
      <DeskChoice desk={desk} desks={desks} onDesk={setDesk} />
      {phone ? (
        <PlaceList key={loom} loom={loom} lit={lit} />
      ) : (
        <Suspense>
          <LoomFace key={loom} loom={loom} desk={desk} lit={lit} shown={shown} onShown={setShown} runsOpen={false} label="Outputs loom" />
        </Suspense>
      )}
    </>
  );
}
