/** Headings of a table; `actions` adds a column of buttons, whose heading only a reader of the screen needs. */
export const TableHead = ({ columns, actions }: { columns: readonly string[]; actions?: boolean }) => (
  <thead>
    <tr>
      {columns.map((each) => (
        <th key={each} scope="col">
          {each}
        </th>
      ))}
      {actions && (
        <th scope="col">
          <span className="hidden">What to do</span>
        </th>
      )}
    </tr>
  </thead>
);
