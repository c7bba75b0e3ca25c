import { type RefObject, useEffect, useId, useRef, useState } from "react";

interface Props {
  title: string;
  /** What stands in the field; it outlives the field. */
  draft: RefObject<string>;
  /** What the cell may say; none for free text. */
  choices?: readonly string[];
  /** What is offered while one types. */
  offers?: readonly string[];
  onCommit: (value: string, key: string, shift: boolean) => void;
  onLeave: () => void;
}

/** The field in which one cell is written; Enter and Tab keep it, Escape leaves it as it was. */
export function CellEditor({ title, draft, choices, offers, onCommit, onLeave }: Props) {
  const list = useId();
  const field = useRef<HTMLInputElement & HTMLSelectElement>(null);
  const [value, setValue] = useState(draft.current);
  // The field goes away as soon as it is kept or left, and going away blurs it once more.
  const done = useRef(false);
  useEffect(() => field.current?.focus(), []);

  function write(text: string) {
    draft.current = text;
    setValue(text);
  }

  function finish(act: () => void) {
    if (done.current) return;
    done.current = true;
    act();
  }

  function onKeyDown(event: React.KeyboardEvent) {
    event.stopPropagation();
    if (event.key === "Enter" || event.key === "Tab") {
      event.preventDefault();
      finish(() => onCommit(value, event.key, event.shiftKey));
    } else if (event.key === "Escape") finish(onLeave);
  }
  const common = {
    ref: field,
    value,
    "aria-label": title,
    onKeyDown,
    onBlur: () => finish(() => onCommit(value, "", false)),
    style: { width: "100%", height: 28, font: "inherit", color: "inherit", background: "transparent", border: 0, outline: "none" },
  };
  if (choices)
    return (
      <select {...common} onChange={(event) => write(event.target.value)}>
        {choices.map((choice) => (
          <option key={choice} value={choice} style={{ color: "black" }}>
            {choice}
          </option>
        ))}
      </select>
    );
  return (
    <>
      <input {...common} list={offers ? list : undefined} onChange={(event) => write(event.target.value)} />
      {offers && (
        <datalist id={list}>
          {offers.map((offer) => (
            <option key={offer} value={offer} />
          ))}
        </datalist>
      )}
    </>
  );
}
