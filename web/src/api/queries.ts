import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../ui/notice";
import { api, type DeskState, type Disk, type Loom, type Rig, type Show, type SwingPlan, type Take, type Trace } from "./client";

export const useShow = () => useQuery({ queryKey: ["show"], queryFn: () => api.get<Show>("/api/show") });
export const useRig = () => useQuery({ queryKey: ["show", "rig"], queryFn: () => api.get<Rig>("/api/rig") });
export const useLoom = (name: string) => useQuery({ queryKey: ["show", "loom", name], queryFn: () => api.get<Loom>(`/api/looms/${name}`) });
export const useTakes = () => useQuery({ queryKey: ["takes"], queryFn: () => api.get<Take[]>("/api/takes") });
export const useDisk = () => useQuery({ queryKey: ["show", "disk"], queryFn: () => api.get<Disk>("/api/disk"), refetchInterval: 5000 });
export const useDesk = () =>
  useQuery({ queryKey: ["show", "desk"], queryFn: () => api.get<DeskState>("/api/desk"), refetchInterval: 3000, retry: false });

export const useTrace = (endpoint: string | null) =>
  useQuery({
    queryKey: ["show", "trace", endpoint],
    queryFn: () => api.get<Trace>(`/api/trace?endpoint=${encodeURIComponent(endpoint ?? "")}`),
    enabled: endpoint !== null,
    placeholderData: (before) => before,
  });

export const useSwingPlan = (to: "recorder" | "stage", keep: string[]) =>
  useQuery({
    queryKey: ["show", "swing", to, keep],
    queryFn: () => api.get<SwingPlan>(`/api/swing?to=${to}&keep=${encodeURIComponent(keep.join(","))}`),
    retry: false,
  });

/** A command to the server: on success everything about the show is read anew, a refusal is said. */
export function useCommand<T = unknown>(path: string, invalidates: "show" | "takes" = "show") {
  const client = useQueryClient();
  const { say } = useNotice();
  return useMutation({
    mutationFn: (body: object) => api.post<T>(path, body),
    onSettled: () => client.invalidateQueries({ queryKey: [invalidates] }),
    onError: (error) => say(error.message, "error"),
  });
}

/** Edits carry the version that they were made for; the newest one on hand is filled in. */
export function useShowCommand(path: string) {
  const client = useQueryClient();
  const command = useCommand(path);
  return (body: object = {}) => {
    const version = client.getQueryData<Show>(["show"])?.version ?? 1;
    return command.mutate({ version, ...body });
  };
}
