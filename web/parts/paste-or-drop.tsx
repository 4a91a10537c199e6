import { useState, type DragEvent } from 'react';
import { TextArea } from './inputs.tsx';

/** Letters of text that is taken. */
const mostLetters = 200_000;

/** A text from elsewhere, pasted or dropped as a file. It is looked at and kept nowhere. */
export function PasteOrDrop({
  label,
  value,
  onText,
}: {
  label: string;
  value: string;
  onText: (text: string) => void;
}) {
  const [problem, setProblem] = useState('');
  const drop = (event: DragEvent): void => {
    const [file] = event.dataTransfer.files;
    if (!file) return;
    event.preventDefault();
    if (file.size > mostLetters) {
      setProblem(`${file.name} has ${Math.round(file.size / 1000)} kB, which no such file has: not read.`);
      return;
    }
    setProblem('');
    void file.text().then(onText, () => setProblem(`${file.name} cannot be read.`));
  };
  return (
    <>
      <TextArea
        className="boxed mono profile-paste"
        aria-label={label}
        placeholder="Paste it, or drop the file here. It stays in this window and is not saved."
        value={value}
        spellCheck={false}
        rows={value === '' ? 2 : 8}
        maxLength={mostLetters}
        onChange={({ target }) => onText(target.value)}
        onDrop={drop}
        onDragOver={(event) => event.preventDefault()}
      />
      {problem && <p role="alert">{problem}</p>}
    </>
  );
}
