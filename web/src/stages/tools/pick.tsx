/** One of several by its number, with its label before it. */

interface PickProps {
  label: string;
  value: number;
  choices: [number, string][];
  onPick: (value: number) => void;
}

export function Pick({ label, value, choices, onPick }: PickProps) {
  return (
    <label className="flex items-center gap-2 text-[14.5px] text-ink-2">
      {label}
      <select
        className="choice w-52! border border-ink! px-1 text-left!"
        value={value}
        onChange={(event) => onPick(Number(event.currentTarget.value))}
      >
        {choices.map(([number, name]) => (
          <option key={number} value={number}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}
