import type { Node, NodeProps } from "@xyflow/react";
import { memo, useEffect, useRef, useState } from "react";
import type { Note } from "../drawing/notes";

import { Formulae } from "../ui/formulae";
import type { Edit } from "../state/use-edits";
import { useSheet } from "./context";

export type NoteNode = Node<{ note: Note; editing: boolean; onDone: () => void }, "note">;

/** Something written on the sheet; formulae stand between dollar signs. */
export const NoteOnSheet = memo(function NoteOnSheet({ data, selected }: NodeProps<NoteNode>) {
  const { note } = data;
  const { onEdit } = useSheet();
  const [editing, setEditing] = useState(data.editing);
  const close = () => {
    setEditing(false);
    data.onDone();
  };
  return (
    <div
      className={`sheet-note ${selected ? "selected-note" : ""}`}
      style={{ minWidth: 40 }}
      data-testid={`note-${note.index}`}
      onDoubleClick={(event) => {
        event.stopPropagation();
        setEditing(true);
      }}
    >
      {editing ? (
        <NoteEditor
          text={note.text}
          onKeep={(text) => onEdit(edited(note, text))}
          onClose={close}
        />
      ) : (
        <Formulae text={note.text} />
      )}
    </div>
  );
});

function edited(note: Note, text: string): Edit {
  if (note.index < 0) return { do: "note", text, x: note.x, y: note.y };
  return {
    do: "change note",
    index: note.index,
    text: text.trim() ? text : null,
    x: note.x,
    y: note.y,
  };
}

function NoteEditor({
  text,
  onKeep,
  onClose,
}: {
  text: string;
  onKeep: (text: string) => void;
  onClose: () => void;
}) {
  const [draft, setDraft] = useState(text);
  const field = useRef<HTMLTextAreaElement>(null);
  const done = useRef(false);
  useEffect(() => field.current?.focus(), []);
  const finish = (keep: boolean) => {
    if (done.current) return;
    done.current = true;
    if (keep && draft.trim() && draft !== text) onKeep(draft);
    onClose();
  };
  return (
    <textarea
      ref={field}
      className="textarea nodrag nopan nowheel w-72 bg-base-100 p-1.5 text-[13px]"
      rows={Math.max(2, draft.split("\n").length)}
      value={draft}
      aria-label="Text of the note"
      placeholder="A note; formulae between $…$. Ctrl+Enter keeps it."
      data-testid="note-text"
      onChange={(event) => setDraft(event.target.value)}
      onBlur={() => finish(true)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape") finish(false);
        if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) finish(true);
      }}
    />
  );
}
