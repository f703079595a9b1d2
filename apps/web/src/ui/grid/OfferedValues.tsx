/** The list of values that is offered while one types into a field; it names it by `list`. */
export function OfferedValues({ id, values }: { id: string; values: readonly string[] }) {
  return (
    <datalist id={id}>
      {values.map((value) => (
        <option key={value} value={value} />
      ))}
    </datalist>
  );
}
