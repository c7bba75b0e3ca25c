import type { Show } from "../../api/client";
import { useSimulation, useSimulationCommand } from "../../api/queries";
import { chosenReturnFault, plantedWords } from "../../model/linecheck";
import { SimulatedAside } from "../../ui/SimulatedAside";

/** What only a simulated desk can do: turn something on the way back without telling, for somebody who learns to find it. */
export function ReturnsAside({ show }: { show: Show }) {
  const stage = useSimulation(show.on_air).data;
  const { mutate: act } = useSimulationCommand();
  if (!stage?.simulated || (show.feed !== "recorder" && !stage.cut)) return null;
  const name = (id: string) => show.rows.find((row) => row.id === id)?.name ?? "a source that is gone";
  return (
    <SimulatedAside
      title="Simulated desk"
      hint="Only the simulation has this: somebody turns something at the desk, and the desk does not say so."
      stage={stage}
      act={act}
      planted={stage.planted
        .filter(({ kind }) => kind === "crossed" || kind === "return")
        .map(({ kind, row, other }) => ({ kind, row, words: plantedWords[kind](name(row), name(other)) }))}
      plantWords="Hide a fault on the way back"
      fault={() => {
        const onRecorder = show.tracks.flatMap(({ feed, row }) => (feed === "recorder" && row ? [{ id: row }] : []));
        const fault = chosenReturnFault(onRecorder, Math.random(), Math.random());
        return fault && { do: "plant", ...fault };
      }}
    />
  );
}
