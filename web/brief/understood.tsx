import type { Brief, Mark } from '../../core/index.ts';

/** The text row by row, with what was understood marked in it and said below; what was not used stays in sight. */
export function Understood({ text, brief }: { text: string; brief: Brief }) {
  const unused = new Set(brief.unused);
  return (
    <ol className="understood" aria-label="The text, as understood" tabIndex={0}>
      {text.split('\n').map((row, index) => {
        const marks = brief.marks.filter(({ line }) => line === index + 1);
        return (
          <li key={index} className={unused.has(index + 1) ? 'unused' : undefined}>
            <span className="understood-number">{row.trim() === '' ? '' : index + 1}</span>
            <span className="understood-row">
              {pieces(row, marks).map(({ piece, mark }, at) =>
                mark ? (
                  <mark
                    key={at}
                    title={mark.says}
                    className={mark.secret ? 'secret' : mark.void ? 'void' : undefined}
                  >
                    {mark.secret ? '•'.repeat(8) : piece}
                  </mark>
                ) : (
                  piece
                ),
              )}
            </span>
            {marks.length > 0 && (
              <span className="understood-says">
                {[...new Set(marks.map(({ says }) => says))].join(' · ')}
              </span>
            )}
          </li>
        );
      })}
    </ol>
  );
}

/** A row cut at its marks. */
function pieces(row: string, marks: readonly Mark[]): { piece: string; mark: Mark | undefined }[] {
  const cut: { piece: string; mark: Mark | undefined }[] = [];
  let at = 0;
  for (const mark of marks) {
    if (mark.start > at) cut.push({ piece: row.slice(at, mark.start), mark: undefined });
    cut.push({ piece: row.slice(mark.start, mark.end), mark });
    at = mark.end;
  }
  if (at < row.length) cut.push({ piece: row.slice(at), mark: undefined });
  return cut;
}
