/** Four tape corners around the selected thing; its parent has the class `framed`. */
export function Corners() {
  return (
    <span className="corners" aria-hidden="true">
      <i />
      <i />
      <i />
      <i />
    </span>
  );
}
