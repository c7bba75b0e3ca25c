/** Whether the server has another page by now than the one that is open: then this one's parts are gone from it. */
export async function isReplaced(): Promise<boolean> {
  const own = document.querySelector<HTMLScriptElement>("script[type=module][src]");
  const answer = await fetch("/", { cache: "no-store" }).catch(() => null);
  if (!own || !answer?.ok) return false;
  return !(await answer.text()).includes(new URL(own.src).pathname);
}
