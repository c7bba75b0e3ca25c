import { useQuery } from "@tanstack/react-query";
import { enc, useOfShow } from "./asked";
import {
  api,
  type Bounced,
  type LibraryRole,
  type OwnSound,
  type RoleTable,
  type SongLevel,
  type SongList,
  type SongPicture,
  type WholeSong,
} from "./client";

// Songs, sounds and roles, and where they go in the open show.

/** Songs of the library that hold all words of `search` in their title. */
export const useSongs = (search: string, limit: number) =>
  useQuery({
    queryKey: ["library", "songs", search, limit],
    queryFn: () => api.get<SongList>(`/api/library/songs?search=${enc(search)}&limit=${limit}`),
    placeholderData: (before) => before,
  });

export const useSong = (id: string) =>
  useQuery({ queryKey: ["library", "song", id], queryFn: () => api.get<WholeSong>(`/api/library/songs/${enc(id)}`) });

/** A song's waveform, and where its bars begin. */
export const useSongPicture = (id: string, points: number) =>
  useQuery({
    queryKey: ["library", "song", id, "overview", points],
    queryFn: () => api.get<SongPicture>(`/api/library/songs/${enc(id)}/overview?points=${points}`),
    placeholderData: (before) => before,
  });

/** Sounds that were brought for clicks and cues. */
export const useOwnSounds = () =>
  useQuery({
    queryKey: ["library", "sounds"],
    queryFn: () => api.get<{ sounds: OwnSound[] }>("/api/library/sounds").then(({ sounds }) => sounds),
  });

export const useRoles = () => useQuery({ queryKey: ["library", "roles"], queryFn: () => api.get<LibraryRole[]>("/api/library/roles") });

/** Which role is on which lanes and how loud, and mixes of roles. */
export const useRoleTable = () => useOfShow<RoleTable>(["show", "roles"], "roles");

export const useSongLevels = (target_lufs: number) =>
  useOfShow<SongLevel[]>(["show", "levels", target_lufs], `levels?target_lufs=${target_lufs}`, { placeholderData: (before) => before });

export const useBounces = () => useOfShow<Bounced[]>(["show", "bounces"], "bounces");
