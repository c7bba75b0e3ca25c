/** Edits that keep what somebody typed; what others name are places, which say nobody anything. */
const OF_WORDS = ["rows", "rename", "about", "device"];
/** Fields that are no words of anybody. */
const NAMES = ["kind", "id", "request", "label", "version", "track"];

/** The words in something that was typed, as they are told while they wait to be kept. */
export function wordsIn(body: object): string {
  const words: string[] = [];
  const gather = (value: unknown) => {
    if (typeof value === "string" && value !== "") words.push(value);
    else if (typeof value === "object" && value !== null)
      for (const [name, inner] of Object.entries(value)) if (!NAMES.includes(name)) gather(inner);
  };
  gather(body);
  return words.join(", ");
}

/** The same of an edit, or of several in one. */
export function wordsOfEdit(edit: { kind: string; edits?: { kind: string }[] }): string {
  if (edit.edits) return edit.edits.map(wordsOfEdit).filter(Boolean).join(", ");
  return OF_WORDS.includes(edit.kind) ? wordsIn(edit) : "";
}
