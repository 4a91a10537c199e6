import { forwardCalls } from '../../core/index.ts';
import { useSite } from '../app/analysis.ts';
import { CopyButton } from '../parts/copy.tsx';

/** What people type to get to each forwarded device, from outside and from inside. */
export function ForwardCallList() {
  const calls = forwardCalls(useSite());
  if (calls.length === 0) return null;
  const why = [...new Set(calls.map(({ insideSays }) => insideSays).filter((each) => each !== ''))];
  return (
    <>
      <h4 className="sub">What is typed to get there</h4>
      <div className="matrix-scroll">
        <table className="calls">
          <thead>
            <tr>
              <th scope="col">Forward</th>
              <th scope="col">From outside</th>
              <th scope="col">From inside</th>
            </tr>
          </thead>
          <tbody>
            {calls.map(({ forward, outside, inside }) => (
              <tr key={forward.id}>
                <th scope="row">{forward.name}</th>
                <td className="mono">
                  {outside} <CopyButton value={outside} what={`${forward.name}, from outside`} />
                </td>
                <td className="mono">
                  {inside} <CopyButton value={inside} what={`${forward.name}, from inside`} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {why.map((each) => (
        <p key={each} className="quiet">
          {each}
        </p>
      ))}
    </>
  );
}
