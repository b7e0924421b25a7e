'use client';

/** One of a few, by their words. */
export function Pick<K extends string>({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: Readonly<Record<K, string>>;
  value: K;
  onChange: (value: K) => void;
}) {
  return (
    <select
      className="field h-[28px]! w-auto! px-1! text-small"
      aria-label={label}
      value={value}
      onChange={(e) => onChange(e.target.value as K)}
    >
      {(Object.keys(options) as K[]).map((k) => (
        <option key={k} value={k}>
          {options[k]}
        </option>
      ))}
    </select>
  );
}
