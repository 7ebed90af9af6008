export function Table<Row,>({ rows, cells }: { rows: Row[]; cells: (row: Row) => string[] }) {
  return <table>{rows.map((r) => <tr>{cells(r).map((c) => <td>{c}</td>)}</tr>)}</table>
}
