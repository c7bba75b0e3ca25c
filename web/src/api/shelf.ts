import { useQuery } from "@tanstack/react-query";
import { enc, useOfShow } from "./asked";
import { type Alarm, api, type Folders, type OnAir, type ShowList, type ShowPlace, type Task, type Template } from "./client";

// Shows, templates, folders, and what is told whatever show is open.

/** The shows of one place that hold all words of `search`, so many of them. */
export const useShelf = (place: ShowPlace, search: string, limit: number) =>
  useQuery({
    queryKey: ["shelf", place, search, limit],
    queryFn: () => api.get<ShowList>(`/api/shows?place=${place}&search=${enc(search)}&limit=${limit}`),
    placeholderData: (before) => before,
  });

/** What putting the show on air would meet; asked anew each time. */
export const useOnAir = (on: boolean) => useOfShow<OnAir>(["on-air"], "on-air", { enabled: on, staleTime: 0, gcTime: 0, retry: false });

export const useTemplates = () => useQuery({ queryKey: ["templates"], queryFn: () => api.get<Template[]>("/api/library/templates") });

/** What the worker is at. Time left goes on being worked out while it runs. */
export const useTasks = () => useQuery({ queryKey: ["tasks"], queryFn: () => api.get<Task[]>("/api/tasks") });

/** Folders of the recording computer; null lists where one may begin. */
export const useFolders = (path: string | null) =>
  useQuery({
    queryKey: ["folders", path],
    queryFn: () => api.get<Folders>(`/api/library/folders${path ? `?path=${enc(path)}` : ""}`),
    staleTime: 0,
    placeholderData: (before) => before,
  });

export const useAlarms = () => useQuery({ queryKey: ["alarms"], queryFn: () => api.get<Alarm[]>("/api/alarms") });
