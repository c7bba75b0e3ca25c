import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../ui/notice";
import { useOfShow } from "./asked";
import {
  api,
  type ControlWish,
  type DeskControl,
  type Linecheck,
  type LinecheckWish,
  type Lineup,
  type LineupTick,
  type PingWish,
  type Press,
  type Simulation,
  type SimulationWish,
  type Soundcheck,
  type SoundcheckWish,
} from "./client";
import { ofShow, useShowId } from "./openShow";

// What is done about the stage: line check, soundcheck, line-up, controls, simulation. Each act is answered with how it stands then.

/** The guided line check, the same on every page; whether the ear answers is looked at while it should listen. */
export const useLinecheck = () =>
  useOfShow<Linecheck>(["show", "linecheck"], "linecheck", {
    refetchInterval: (query) => (query.state.data?.listening || query.state.data?.measuring ? 2000 : false),
  });

/** Preamps, faders and mutes, which somebody may move at the desk meanwhile. */
export const useControls = (on: boolean) =>
  useOfShow<DeskControl[]>(["show", "controls"], "controls", { enabled: on, retry: false, refetchInterval: 2000 });

/** What was proved of the way back, the same on every page. */
export const useSoundcheck = () => useOfShow<Soundcheck>(["show", "soundcheck"], "soundcheck");

/** What is simulated beside the desk, while there is one that answers; somebody may plant at another page. */
export const useSimulation = (on: boolean) =>
  useOfShow<Simulation>(["show", "simulation"], "simulation", { enabled: on, retry: false, refetchInterval: 3000 });

/** Which lanes were found at the desk, the same on every page. */
export const useLineup = () => useOfShow<Lineup>(["show", "lineup"], "lineup");

/** What was pressed while the show played. */
export const usePresses = () => useOfShow<Press[]>(["show", "presses"], "presses", { refetchInterval: 5000 });

/** What is done on a page about the stage, answered with how it stands then. */
function useStageCommand<Wish extends object, Answer>(path: string, part = path) {
  const client = useQueryClient();
  const id = useShowId();
  const { say } = useNotice();
  return useMutation({
    mutationFn: (wish: Wish) => api.post<Answer>(ofShow(id, path), wish),
    onSuccess: (answer) => client.setQueryData(["show", id, part], answer),
    onError: (error) => {
      client.invalidateQueries({ queryKey: ["show", id, part] });
      say(error.message, "error");
    },
  });
}

export const useLinecheckCommand = () => useStageCommand<LinecheckWish, Linecheck>("linecheck");

/** A ping is sent, heard and judged: that takes some seconds. */
export const usePing = () => useStageCommand<PingWish, Soundcheck>("soundcheck/ping", "soundcheck");

export const useSoundcheckCommand = () => useStageCommand<SoundcheckWish, Soundcheck>("soundcheck");

export const useOpenAgain = () => useStageCommand<Record<string, never>, Soundcheck>("soundcheck/open", "soundcheck");

export const useTick = () => useStageCommand<LineupTick, Lineup>("lineup/tick", "lineup");

export const useControlCommand = () => useStageCommand<ControlWish, DeskControl[]>("controls");

export const useSimulationCommand = () => useStageCommand<SimulationWish, Simulation>("simulation");
