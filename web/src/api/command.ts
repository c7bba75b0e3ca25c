import { useMutation, useQueryClient } from "@tanstack/react-query";
import { wordsIn } from "../model/typed";
import { useNotice } from "../ui/notice";
import { ApiError, api } from "./client";
import { ofShow, useOpenShow } from "./openShow";
import { keepUnsent, reason, unanswered } from "./unsent";

// Commands, and those which are asked for a second time.

/**
 * A command to the server: on success what it may have changed is read anew, a refusal is said. A path without a
 * slash before it is one of the open show. `typed` is what something typed is called: it is not lost when the server
 * does not answer.
 */
export function useCommand<T = unknown>(
  path: string,
  invalidates: "show" | "takes" | "templates" | "alarms" | "ribbon" | "shelf" | "tasks" = "show",
  typed?: string,
) {
  const client = useQueryClient();
  const open = useOpenShow();
  const { say, ask } = useNotice();
  const whole = path.startsWith("/") ? path : ofShow(open?.id ?? 0, path);
  const command = useMutation({
    mutationFn: (body: object) => api.post<T>(whole, body),
    onSettled: () => client.invalidateQueries({ queryKey: [invalidates] }),
    onError: (error, body) => {
      if (typed !== undefined && unanswered(error))
        return keepUnsent({ path: whole, body, show: null, label: typed, typed: wordsIn(body), why: reason(error) });
      const needed = neededWord(error);
      return needed ? ask(secondWord(error, needed), () => command.mutate({ ...body, [needed]: true })) : say(error.message, "error");
    },
  });
  return command;
}

const SECOND_WORDS: Record<string, string> = { during_take: "A take is running", on_recorder: "The desk listens to the recorder" };

export const secondWord = (error: Error, field: string) => ({
  title: SECOND_WORDS[field] ?? "",
  text: error.message,
  yes: "Do it all the same",
});

/** What would hurt a running take, or record from the recorder, is asked for a second time: the field that says so. */
export const neededWord = (error: Error): string | null =>
  error instanceof ApiError && error.status === 409 && error.field in SECOND_WORDS ? error.field : null;
