import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, Table, TableBody, TableCell, TableRow } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import { actionOf, forget, keyText, type Learnt, learn, type MidiKey, readLearnt, readMessage } from "../../model/midiKeys";

/** What can be done by a pedal; what is held on the page is held there too. */
export interface StageAct {
  name: string;
  words: string;
  held: boolean;
  act: () => void;
}

const KEPT = "loomshuttle-midi-keys";
/** As long as a button is held on the page. */
const HOLD_MS = 900;

/** Pedals and pads that run the night, each learnt by pressing it; kept in this browser, where they are plugged in. */
export function MidiKeys({ acts }: { acts: StageAct[] }) {
  const [open, setOpen] = useState(false);
  const [learnt, setLearnt] = useState(() => readLearnt(localStorage.getItem(KEPT)));
  const [learning, setLearning] = useState<string | null>(null);
  const [ports, setPorts] = useState<string[]>([]);
  const [fault, setFault] = useState<string | null>(null);
  const keep = (changed: Learnt) => {
    localStorage.setItem(KEPT, JSON.stringify(changed));
    setLearnt(changed);
  };
  const wanted = open || Object.keys(learnt).length > 0;
  const holding = useRef(new Map<string, number>());
  const pressed = useRef<(key: MidiKey, down: boolean) => void>(() => undefined);
  pressed.current = (key, down) => {
    clearTimeout(holding.current.get(keyText(key)));
    if (!down) return;
    if (learning) {
      keep(learn(learnt, learning, key));
      return setLearning(null);
    }
    // While somebody looks at what is learnt nothing is run.
    const found = !open && acts.find(({ name }) => name === actionOf(learnt, key));
    if (!found) return;
    if (!found.held) return found.act();
    holding.current.set(
      keyText(key),
      window.setTimeout(() => found.act(), HOLD_MS),
    );
  };
  useEffect(() => {
    if (!wanted) return;
    let gone = false;
    let access: MIDIAccess | null = null;
    const listen = () => {
      if (!access || gone) return;
      const inputs = [...access.inputs.values()];
      for (const input of inputs)
        input.onmidimessage = ({ data }) => {
          const said = data && readMessage([...data]);
          if (said) pressed.current(said.key, said.down);
        };
      setPorts(inputs.filter(({ state }) => state !== "disconnected").map(({ name }) => name ?? "no name"));
    };
    if (!navigator.requestMIDIAccess) setFault("This browser takes no MIDI: keys and touch run the night.");
    else
      navigator
        .requestMIDIAccess()
        .then((given) => {
          access = given;
          access.onstatechange = listen;
          listen();
        })
        .catch((error: Error) => setFault(`The browser gives no MIDI to this page: ${error.message}`));
    const timers = holding.current;
    return () => {
      gone = true;
      if (access) {
        access.onstatechange = null;
        for (const input of access.inputs.values()) input.onmidimessage = null;
      }
      for (const timer of timers.values()) clearTimeout(timer);
    };
  }, [wanted]);
  const close = () => {
    setOpen(false);
    setLearning(null);
  };
  return (
    <>
      <Button size="small" variant="outlined" color="inherit" onClick={() => setOpen(true)}>
        Pedals
      </Button>
      {!open && fault && wanted && <Alert severity="warning">{fault}</Alert>}
      {!open && !fault && wanted && ports.length === 0 && (
        <Alert severity="warning">No MIDI device is plugged in: the pedals do nothing.</Alert>
      )}
      <Dialog open={open} onClose={close} fullWidth maxWidth="sm">
        <DialogTitle>Pedals</DialogTitle>
        <DialogContent>
          {fault ? (
            <Alert severity="warning">{fault}</Alert>
          ) : (
            <Alert severity="info">{ports.length ? `Heard: ${ports.join(", ")}` : "No MIDI device is plugged in."}</Alert>
          )}
          <Table size="small" aria-label="Pedals" sx={{ mt: 1 }}>
            <TableBody>
              {acts.map(({ name, words, held }) => (
                <TableRow key={name} data-act={name}>
                  <TableCell>
                    {words}
                    {held && ", held"}
                  </TableCell>
                  <TableCell>{learning === name ? "press it now" : (learnt[name] ?? "")}</TableCell>
                  <TableCell align="right">
                    <Button
                      size="small"
                      color="inherit"
                      onClick={() => setLearning(learning === name ? null : name)}
                      aria-label={`${learning === name ? "Let it be" : "Learn"}: ${words}`}
                    >
                      {learning === name ? "Let it be" : "Learn"}
                    </Button>
                    <Button
                      size="small"
                      color="inherit"
                      disabled={!learnt[name]}
                      onClick={() => keep(forget(learnt, name))}
                      aria-label={`Forget: ${words}`}
                    >
                      Forget
                    </Button>
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={close}>
            Close
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
