import { useState, type DragEvent } from 'react';
import { checkProfile, parseProfile } from '../../core/index.ts';
import { useSite } from '../app/analysis.ts';
import { SeverityMark } from '../parts/severity.tsx';

/** A profile from the field, pasted or dropped: every fault of it, named against the plan. It is kept nowhere. */
export function ProfileCheck() {
  const site = useSite();
  const [text, setText] = useState('');
  const parsed = text.trim() === '' ? undefined : parseProfile(text);
  const checked = parsed?.ok ? checkProfile(site, parsed.value) : undefined;
  const drop = (event: DragEvent): void => {
    const [file] = event.dataTransfer.files;
    if (!file) return;
    event.preventDefault();
    if (file.size < 100_000) void file.text().then(setText);
  };
  return (
    <section aria-labelledby="profile-check">
      <h3 id="profile-check">A profile from the field</h3>
      <textarea
        className="boxed mono profile-paste"
        aria-label="A profile from the field"
        placeholder="Paste it, or drop the file here. It stays in this window and is not saved."
        value={text}
        spellCheck={false}
        rows={text === '' ? 2 : 8}
        maxLength={100_000}
        onChange={({ target }) => setText(target.value)}
        onDrop={drop}
        onDragOver={(event) => event.preventDefault()}
      />
      {parsed && !parsed.ok && <p role="alert">{parsed.problem.says}</p>}
      {checked && (
        <div role="status">
          <p>
            {checked.peer ? (
              <>
                It belongs to <strong>{checked.peer.name}</strong>.{' '}
              </>
            ) : null}
            {checked.faults.length === 0
              ? 'Nothing is wrong with it.'
              : `${checked.faults.length} things are wrong with it:`}
          </p>
          <ul className="profile-faults">
            {checked.faults.map((fault) => (
              <li key={fault.rule + fault.says}>
                <SeverityMark severity={fault.severity} /> {fault.says}
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}
