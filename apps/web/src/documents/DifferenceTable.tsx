import type { Difference } from '../drafts/saving/differences';

/** Where two texts of a document differ, side by side. */
export function DifferenceTable({
  differences,
  mine,
  theirs,
}: {
  differences: readonly Difference[];
  mine: string;
  theirs: string;
}) {
  return (
    <table className="differences">
      <thead>
        <tr>
          <th>Where</th>
          <th>{mine}</th>
          <th>{theirs}</th>
        </tr>
      </thead>
      <tbody>
        {differences.map((d) => (
          <tr key={d.where}>
            <th scope="row">{d.where}</th>
            <td>{d.mine}</td>
            <td>{d.theirs}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
