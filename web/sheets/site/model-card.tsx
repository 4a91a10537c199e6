import Button from '@mui/material/Button';
import { useState } from 'react';
import useSWR from 'swr';
import { lightSchema, wordSchema, type KitItem } from '../../../core/index.ts';
import { newId, postJson, sentence } from '../../state/api.ts';
import { usePlanPiece, useSession } from '../../state/session.ts';
import { Field } from '../../parts/field.tsx';
import { PlanTable } from '../../parts/rows.tsx';
import '../../parts/step.css';

interface Cards {
  readonly cards: readonly { readonly model: string; readonly card: KitItem['card'] }[];
}

/** What is known of a model: its first login, its reset, its lights, its words. Kept by model for the next job. */
export function ModelCard({ index }: { index: number }) {
  const session = useSession();
  const item = usePlanPiece((plan) => plan.kit[index]);
  const { data, mutate } = useSWR<Cards>('/api/cards', { revalidateOnFocus: false });
  const [said, setSaid] = useState('');
  const [open, setOpen] = useState(false);
  if (!item) return null;
  const at = `/kit/${index}/card` as const;
  const known = data?.cards.find(({ model }) => model.toLowerCase() === item.model.trim().toLowerCase());
  const differs = known && JSON.stringify(known.card) !== JSON.stringify(item.card);
  const empty =
    item.card.login === '' &&
    item.card.lights.length === 0 &&
    item.card.words.length === 0 &&
    item.card.holdSeconds === null;
  const keep = async (): Promise<void> => {
    try {
      await postJson('/api/cards', { model: item.model.trim(), card: item.card });
      await mutate();
      setSaid(`Kept for the next ${item.model.trim()}.`);
    } catch (error) {
      setSaid(sentence(error));
    }
  };
  return (
    <div className="model-card">
      <div className="row-actions">
        <Button aria-expanded={open} onClick={() => setOpen(!open)}>
          Card of this model
        </Button>
        {differs && (
          <Button
            onClick={() => {
              session.edit(at, known.card);
              session.settle();
            }}
          >
            Take the card of earlier jobs
          </Button>
        )}
        {open && item.model.trim() !== '' && !empty && (
          <Button onClick={() => void keep()}>Keep for the next one</Button>
        )}
        {said && <span role="status">{said}</span>}
      </div>
      {open && (
        <>
          <div className="ledger">
            <Field at={`${at}/login`} />
            <Field at={`${at}/holdSeconds`} />
            <Field at={`${at}/startSeconds`} />
            <Field at={`${at}/source`} />
          </div>
          <PlanTable
            at={`${at}/lights`}
            columns={[
              ['light', 's'],
              ['shows', 'm'],
              ['stage', 'm'],
              ['tryThis', 'l'],
            ]}
            row={() => lightSchema.parse({ id: newId() })}
            what="light"
            addLabel="Add a light"
            empty="No lights yet: what each one says, from the manual."
          />
          <PlanTable
            at={`${at}/words`}
            columns={[
              ['term', 'm'],
              ['menu', 'l'],
            ]}
            row={() => wordSchema.parse({ id: newId() })}
            what="word"
            addLabel="Add a word of its pages"
            empty="No words yet: what its pages call the terms used here."
          />
        </>
      )}
    </div>
  );
}
