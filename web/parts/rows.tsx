import { mdiArrowDown, mdiArrowUp, mdiChevronDown, mdiChevronUp, mdiTrashCanOutline } from '@mdi/js';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Table from '@mui/material/Table';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useMemo, useState, type ClipboardEvent, type ReactNode } from 'react';
import { asAt, fieldAt, termAt, valueAt } from '../../core/index.ts';
import { focusWhenThere, useFocus } from '../state/focus.ts';
import { usePlanPiece, useSession } from '../state/session.ts';
import type { Choices } from './choices.ts';
import { Field } from './field.tsx';
import { Rows } from './rows-in-sight.tsx';
import { Icon } from './severity.tsx';
import { TextArea } from './inputs.tsx';

/**
 * The rows of one list of the plan, by id, and what can be done with them. The component is drawn anew when rows come,
 * go or move, not when something is typed in one.
 */
export function useRows<T extends { id: string }>(at: string) {
  const session = useSession();
  const { place } = useFocus();
  const joined = usePlanPiece((plan) => (valueAt(plan, at) as T[]).map((row) => row.id).join(' '));
  return useMemo(() => {
    const rows = (): T[] => valueAt(session.snapshot().plan, at) as T[];
    const put = (next: T[]): void => {
      session.edit(at, next);
      session.settle();
    };
    return {
      ids: joined === '' ? [] : joined.split(' '),
      add: (row: T, field: string) => {
        const wanted = `${at}/${rows().length}/${field}` as const;
        put([...rows(), row]);
        place.set(wanted);
        // Typing goes on in the new row.
        focusWhenThere(wanted);
      },
      addAll: (more: T[]) => put([...rows(), ...more]),
      remove: (index: number) => put(rows().filter((_, place) => place !== index)),
      move: (index: number, by: -1 | 1) => {
        const next = [...rows()];
        const [row] = next.splice(index, 1);
        next.splice(index + by, 0, row!);
        put(next);
      },
    };
  }, [session, at, joined, place]);
}

export function RemoveButton({ what, onClick }: { what: string; onClick: () => void }) {
  return (
    <IconButton
      size="small"
      aria-label={`Remove ${what}`}
      title={`Remove ${what} (undo brings it back)`}
      onClick={onClick}
      className="row-button"
    >
      <Icon path={mdiTrashCanOutline} />
    </IconButton>
  );
}

/** Shows what few rows have. It is a button and not the focus: a row that grows and shrinks by itself moves what is clicked. */
export function MoreButton({ what, open, toggle }: { what: string; open: boolean; toggle: () => void }) {
  return (
    <IconButton
      size="small"
      aria-label={`${open ? 'Less' : 'More'} of ${what}`}
      aria-expanded={open}
      onClick={toggle}
      className="row-button more-button"
    >
      <Icon path={open ? mdiChevronUp : mdiChevronDown} />
    </IconButton>
  );
}

export function MoveButtons({
  what,
  index,
  count,
  move,
}: {
  what: string;
  index: number;
  count: number;
  move: (index: number, by: -1 | 1) => void;
}) {
  return (
    <>
      <IconButton
        size="small"
        aria-label={`Move ${what} up`}
        disabled={index === 0}
        onClick={() => move(index, -1)}
        className="row-button"
      >
        <Icon path={mdiArrowUp} />
      </IconButton>
      <IconButton
        size="small"
        aria-label={`Move ${what} down`}
        disabled={index === count - 1}
        onClick={() => move(index, 1)}
        className="row-button"
      >
        <Icon path={mdiArrowDown} />
      </IconButton>
    </>
  );
}

/** Key of a field of the rows, or a heading of its own; then the width. */
type Column = readonly [key: string, width: string];

interface TableProps {
  /** JSON Pointer of the list: its name and those of its columns stand in the catalogue. */
  readonly at: string;
  readonly columns: readonly Column[];
  /** Whose list it is, where several of one name stand beside each other. */
  readonly of?: string;
  readonly addLabel: string;
  /** Takes pasted text with several cells; answers what could not be placed. */
  readonly paste?: (text: string) => string[];
  readonly pasteHint?: string;
  readonly empty: string;
}

/** The term of a column, with the unit that its cells then need not repeat; a column of its own has its name. */
function headingOf(at: string, key: string): string {
  const field = fieldAt(`${at}/0/${key}`);
  return field ? `${field.term}${field.kind === 'number' && field.unit ? `, ${field.unit}` : ''}` : key;
}

/** A table of the plan that is typed in cell by cell: one field in each, made from the catalogue. */
export function PlanTable<Row extends { id: string }>({
  row,
  what,
  choices = {},
  cell,
  ...table
}: TableProps & {
  /** Makes a new row. */
  readonly row: () => Row;
  /** What one row is called. */
  readonly what: string;
  /** What can be chosen in a column, where that is not every row of the list it names. */
  readonly choices?: Readonly<Record<string, Choices>>;
  /** Content of a column that is no field. */
  readonly cell?: (key: string, index: number) => ReactNode;
}) {
  const { at, columns, of } = table;
  const { ids, add, remove } = useRows<Row>(at);
  return (
    <RowTable {...table} add={() => add(row(), columns[0]![0])}>
      {ids.map((id, index) => (
        <TableRow key={id} data-at={`${at}/${index}`} tabIndex={-1}>
          {columns.map(([key]) => {
            const place = asAt(`${at}/${index}/${key}`);
            return (
              <TableCell key={key}>
                {fieldAt(place) && !cell?.(key, index) ? (
                  <Field bare at={place} {...(choices[key] && { choices: choices[key] })} />
                ) : (
                  cell?.(key, index)
                )}
              </TableCell>
            );
          })}
          <TableCell>
            <RemoveButton
              what={`${what} ${index + 1}${of ? ` of ${of}` : ''}`}
              onClick={() => remove(index)}
            />
          </TableCell>
        </TableRow>
      ))}
    </RowTable>
  );
}

/** A table of the plan: headings, rows, a button for one more, and rows pasted from a spreadsheet. */
export function RowTable({
  at,
  columns,
  of,
  add,
  addLabel,
  paste,
  pasteHint,
  empty,
  children,
}: TableProps & { readonly add: () => void; readonly children: ReactNode[] }) {
  const label = of ? `${termAt(at)} of ${of}` : termAt(at);
  const headings = columns.map(([key, width]) => [headingOf(at, key), width] as const);
  const [notes, setNotes] = useState<string[]>([]);
  const onPaste = (event: ClipboardEvent): void => {
    const text = event.clipboardData.getData('text/plain');
    if (!paste || !/[\t\n]/.test(text.trim())) return;
    event.preventDefault();
    setNotes(paste(text));
  };
  return (
    <div onPaste={onPaste} className="rows">
      {children.length === 0 ? (
        <p className="empty">{empty}</p>
      ) : (
        <Table aria-label={label}>
          <colgroup>
            {headings.map(([heading, width]) => (
              <col key={heading} className={`w-${width}`} />
            ))}
            <col className="w-button" />
          </colgroup>
          <TableHead>
            <TableRow>
              {headings.map(([heading]) => (
                <TableCell key={heading} scope="col">
                  {heading}
                </TableCell>
              ))}
              <TableCell>
                <span className="hidden">Remove</span>
              </TableCell>
            </TableRow>
          </TableHead>
          <Rows at={at}>{children}</Rows>
        </Table>
      )}
      <div className="row-actions">
        <Button onClick={add}>{addLabel}</Button>
        {pasteHint && (
          <PasteBox label={label} hint={pasteHint} take={(text) => setNotes(paste?.(text) ?? [])} />
        )}
      </div>
      {notes.length > 0 && (
        <div role="status" className="note">
          {notes.slice(0, 6).map((note) => (
            <p key={note}>{note}</p>
          ))}
          {notes.length > 6 && <p>… and {notes.length - 6} more.</p>}
          <Button onClick={() => setNotes([])}>Dismiss</Button>
        </div>
      )}
    </div>
  );
}

/** A place to paste rows by keyboard, opened when wanted. */
function PasteBox({ label, hint, take }: { label: string; hint: string; take: (text: string) => void }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  if (!open) return <Button onClick={() => setOpen(true)}>Paste rows …</Button>;
  return (
    <div className="paste-box">
      <label>
        {hint}
        <TextArea
          autoFocus
          className="boxed mono"
          aria-label={`Rows for ${label}`}
          rows={5}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onPaste={(event) => event.stopPropagation()}
        />
      </label>
      <Button
        variant="contained"
        disabled={text.trim() === ''}
        onClick={() => {
          take(text);
          setText('');
          setOpen(false);
        }}
      >
        Add these rows
      </Button>
      <Button onClick={() => setOpen(false)}>Keep for later</Button>
    </div>
  );
}
