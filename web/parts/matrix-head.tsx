import './matrix.css';

/** The head of a table in which rows send and columns receive. */
export const MatrixHead = ({ columns }: { columns: readonly (readonly [key: string, name: string])[] }) => (
  <thead>
    <tr>
      <th scope="col" className="matrix-corner">
        from ↓ to →
      </th>
      {columns.map(([key, name]) => (
        <th key={key} scope="col">
          {name}
        </th>
      ))}
    </tr>
  </thead>
);
