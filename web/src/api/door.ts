import { useQuery } from "@tanstack/react-query";
import { type AtDoor, api, type LetIn, type WayIn } from "./client";

// Who is let in, and where.

/** Who this device is; null where it was not let in. */
export const useVisitor = () => useQuery({ queryKey: ["door", "visitor"], queryFn: () => api.get<AtDoor>("/api/door"), retry: true });

/** Where others get in. Asked for again, because the door may fail while somebody looks. */
export const useWay = () => useQuery({ queryKey: ["door", "way"], queryFn: () => api.get<WayIn>("/api/door/way"), refetchInterval: 2000 });

/** Devices that were let in; who enters a code meanwhile is seen. */
export const useDevicesLetIn = () =>
  useQuery({ queryKey: ["door", "devices"], queryFn: () => api.get<LetIn>("/api/door/devices"), refetchInterval: 2000 });
