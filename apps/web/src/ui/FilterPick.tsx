import { matching } from '@idle-step/core/typed';
import { useCombobox } from 'downshift';
import { useState } from 'react';
import { Form, Overlay } from 'react-bootstrap';
import { nth } from '@idle-step/core/sure';

type Option = { readonly value: string; readonly text: string };

type Props = {
  label: string;
  options: readonly Option[];
  onPick(value: string): void;
  /** What is chosen now, `null` where each pick does something and the field is empty again. */
  value: string | null;
  placeholder?: string;
  hideLabel?: boolean;
  className?: string;
};

/** One of a long list, found by typing parts of its words: arrows move, Enter takes, Escape leaves what was there. */
export function FilterPick({ label, options, onPick, value, placeholder, hideLabel, className }: Props) {
  const chosen = options.find((o) => o.value === value)?.text ?? '';
  /** What is being typed; `null` while nothing is. */
  const [typed, setTyped] = useState<string | null>(null);
  const [field, setField] = useState<HTMLElement | null>(null);
  const places = matching(
    options.map((o) => o.text),
    typed ?? '',
  );
  const found = places.map((i) => nth(options, i));
  const {
    isOpen,
    highlightedIndex,
    getInputProps,
    getItemProps,
    getLabelProps,
    getMenuProps,
    openMenu,
    closeMenu,
  } = useCombobox<Option>({
    items: found,
    inputValue: typed ?? chosen,
    selectedItem: null,
    defaultHighlightedIndex: 0,
    itemToString: (o) => o?.text ?? '',
    onInputValueChange: ({ inputValue, type }) => {
      if (type === useCombobox.stateChangeTypes.InputChange) setTyped(inputValue);
    },
    onSelectedItemChange: ({ selectedItem }) => {
      setTyped(null);
      if (selectedItem) onPick(selectedItem.value);
    },
    onIsOpenChange: ({ isOpen: next }) => {
      if (!next) setTyped(null);
    },
    // What is in hand when the field is left was not chosen.
    stateReducer: (state, { type, changes }) =>
      type === useCombobox.stateChangeTypes.InputBlur
        ? { ...changes, selectedItem: state.selectedItem }
        : changes,
  });
  return (
    <Form.Group className={`filter-pick ${className ?? ''}`}>
      <Form.Label {...getLabelProps()} className={hideLabel ? 'visually-hidden' : ''}>
        {label}
      </Form.Label>
      <input
        {...getInputProps({
          ref: setField,
          className: 'form-control',
          placeholder: placeholder ?? 'type a part of a name',
          onFocus: (event) => {
            event.currentTarget.select();
            openMenu();
          },
          onKeyDown: (event) => {
            if (event.key !== 'Escape' || !isOpen) return;
            // Left once, and not the place around it as well.
            event.stopPropagation();
            setTyped(null);
            closeMenu();
          },
        })}
      />
      <Overlay target={field} show={isOpen} placement="bottom-start" flip transition={false}>
        {({ ref, style }) => (
          <div ref={ref} className="found-menu" style={{ ...style, minWidth: field?.offsetWidth }}>
            <Options
              menu={getMenuProps({}, { suppressRefError: true })}
              found={found}
              highlighted={highlightedIndex}
              item={(option, index) => getItemProps({ item: option, index })}
            />
          </div>
        )}
      </Overlay>
      {!isOpen && <ul {...getMenuProps({}, { suppressRefError: true })} hidden />}
    </Form.Group>
  );
}

function Options({
  menu,
  found,
  highlighted,
  item,
}: {
  menu: object;
  found: readonly Option[];
  highlighted: number;
  item(option: Option, index: number): object;
}) {
  return (
    <ul {...menu}>
      {found.map((option, i) => (
        <li key={option.value} className={i === highlighted ? 'in-hand' : ''} {...item(option, i)}>
          {option.text}
        </li>
      ))}
      {found.length === 0 && (
        <li className="muted" role="option" aria-selected={false} aria-disabled>
          Nothing has this in its name.
        </li>
      )}
    </ul>
  );
}
