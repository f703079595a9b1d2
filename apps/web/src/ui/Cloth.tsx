type Props = {
  text: string;
  lit?: boolean;
  large?: boolean;
  /** So many first words give way where there is little room, as what follows tells them apart. */
  shared?: number;
  /** The colour of the tape, `null` for plain cloth. */
  colour?: string | null;
  className?: string;
  style?: React.CSSProperties;
};

/** A strip of cloth tape with the name of a switch, bank or scene on it. Nothing else is written on cloth. */
export function Cloth({
  text,
  lit = true,
  large = false,
  shared = 0,
  colour = null,
  className = '',
  style,
}: Props) {
  // The ends are torn in one of four ways, always the same for the same name.
  const torn = 1 + ([...text].reduce((sum, c) => sum + c.charCodeAt(0), 0) % 4);
  const classes = [
    'cloth',
    `c${torn}`,
    large ? 'large' : '',
    shared > 0 ? 'parted' : '',
    lit ? '' : 'off',
    colour ? `t-${colour} coloured` : '',
    className,
  ].filter(Boolean);
  return (
    <span className={classes.join(' ')} style={style}>
      {shared > 0 ? <Parted words={text.trim().split(/\s+/)} shared={shared} /> : text}
    </span>
  );
}

const Parted = ({ words, shared }: { words: readonly string[]; shared: number }) => (
  <>
    <span className="gives-way">{words.slice(0, shared).join(' ')}</span>{' '}
    <span>{words.slice(shared).join(' ')}</span>
  </>
);
