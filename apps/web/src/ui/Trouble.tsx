/** Why something was not done, read out at once; nothing where all is well. */
export function Trouble({ children }: { children: string | null | undefined }) {
  return children ? (
    <p className="field-error" role="alert">
      {children}
    </p>
  ) : null;
}
