import { useQuery } from "@tanstack/react-query";
import { useOfShow } from "./asked";
import { type AudioDevice, api, type CopyPlace, type DeskAt, type DeviceTerms, type Disk, type Session } from "./client";
import { ofShow, useShowId } from "./openShow";

// The desk that is spoken to, the audio device, and where takes go.

/** Which desk is spoken to. */
export const useDeskAt = () => useQuery({ queryKey: ["desk-at"], queryFn: () => api.get<DeskAt>("/api/desk") });

export const useDevices = (on: boolean) =>
  useQuery({ queryKey: ["devices"], queryFn: () => api.get<AudioDevice[]>("/api/devices"), enabled: on, staleTime: 0 });

/** What a device would cost and save, in words. */
export const useDeviceTerms = (wish: { rate_hz: number; block_frames: number; lanes_in: number } | null) => {
  const id = useShowId();
  return useQuery({
    queryKey: ["show", id, "device-terms", wish],
    queryFn: () => api.post<DeviceTerms>(ofShow(id, "device/terms"), wish ?? {}),
    enabled: wish !== null,
    placeholderData: (before) => before,
  });
};

export const usePlaces = (on: boolean) =>
  useQuery({ queryKey: ["places"], queryFn: () => api.get<CopyPlace[]>("/api/places"), enabled: on, staleTime: 0 });

export const useDisk = () => useOfShow<Disk>(["show", "disk"], "disk", { refetchInterval: 5000 });

export const useSession = () => useOfShow<Session>(["session"], "session");
