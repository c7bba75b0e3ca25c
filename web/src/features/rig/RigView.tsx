import { Alert } from "@mui/material";
import { Suspense } from "react";
import { useMay } from "../../api/may";
import { useRig } from "../../api/patch";
import { later } from "../../ui/later";
import { StepHead } from "../../ui/StepHead";
import { useWidth } from "../../ui/useWidth";
import { RigList } from "./RigList";

const RigBench = later(() => import("./RigBench").then((part) => part.RigBench), { wide: true });

/** The gear and what joins it: a map in the order in which the signal travels; a list on a phone, and for who may only look. */
export function RigView({ lit }: { lit: string[] }) {
  const rig = useRig();
  const operates = useMay("operate");
  const phone = useWidth() === "phone";
  if (rig.data && !phone && operates)
    return (
      <Suspense fallback={<StepHead title="Rig" />}>
        <RigBench rig={rig.data} lit={lit} />
      </Suspense>
    );
  return (
    <>
      <StepHead title="Rig" />
      {rig.error && <Alert severity="error">{rig.error.message}</Alert>}
      {rig.data && <RigList rig={rig.data} lit={lit} />}
    </>
  );
}
