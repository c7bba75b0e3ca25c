import type { Show } from "../../api/client";
import { useSimulation, useSimulationCommand } from "../../api/stage";
import { chosenLock, chosenReturnFault, plantedWords } from "../../model/linecheck";
import { SimulatedAside } from "../../ui/SimulatedAside";

const OF_CHANNELS: string[] = ["crossed", "return", "locked"];

/** What only a simulated desk can do: turn something on the way back without telling, for somebody who learns to find it. */
export function ReturnsAside({ show }: { show: Show }) {
  const stage = useSimulation(show.on_air).data;
  const { mutate: act } = useSimulationCommand();
  if (!stage?.simulated) return null;
  const swung = show.feed === "recorder";
  const name = (id: string) => show.rows.find((row) => row.id === id)?.name ?? "a source that is gone";
  return (
    <SimulatedAside
      title="Simulated desk"
      hint="Only the simulation has this: somebody turns something at the desk, and the desk does not say so."
      stage={stage}
      act={act}
      planted={stage.planted
        .filter(({ kind }) => OF_CHANNELS.includes(kind))
        .map(({ kind, row, other }) => ({ kind, row, words: plantedWords[kind](name(row), name(other)) }))}
      plantWords={swung ? "Hide a fault on the way back" : "Lock a channel at the desk"}
      fault={() => {
        const turning = show.tracks.flatMap(({ feed, row }) => ((!swung || feed === "recorder") && row ? [{ id: row }] : []));
        const fault = swung ? chosenReturnFault(turning, Math.random(), Math.random()) : chosenLock(turning, Math.random());
        return fault && { do: "plant", ...fault };
      }}
    />
  );
}
