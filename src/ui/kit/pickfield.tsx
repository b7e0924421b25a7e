'use client';

/** One of a few, by their words. @param wide fills its place in a row of settings; else it is as wide as its words */
export function PickField<T extends string>({
  label,
  value,
  options,
  onChange,
  wide = false,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
  wide?: boolean;
}) {
  return (
    <select
      className={`field px-1! text-small ${wide ? 'h-[24px]! w-full' : 'h-[28px]! w-auto!'}`}
      aria-label={label}
      value={value}
      onChange={(e) => onChange(e.target.value as T)}
    >
      {options.map(([key, words]) => (
        <option key={key} value={key}>
          {words}
        </option>
      ))}
    </select>
  );
}
