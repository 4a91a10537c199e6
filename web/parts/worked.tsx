import type { Worked } from '../../core/index.ts';

/** A calculation as on paper: the figures at the right edge, a rule, the result below it. */
export function WorkedSum({ worked }: { worked: Worked }) {
  const last = worked.steps.length - 1;
  return (
    <figure className="sum">
      <figcaption>{worked.name}</figcaption>
      <table>
        <tbody>
          {worked.steps.map((step, index) => (
            <tr
              key={`${step.says}${index}`}
              className={index === last && last > 0 ? 'sum-result' : undefined}
            >
              <th scope="row">{step.says}</th>
              <td className={step.value.length <= 19 ? 'short' : undefined}>{step.value}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {worked.means && <p className="sum-means">{worked.means}</p>}
      <p className="sum-source">{worked.source}</p>
    </figure>
  );
}
