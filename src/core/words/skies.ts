/** Environments of our own, by name. */
export const SKIES = ['quay-at-dawn', 'overcast-harbour', 'boathouse-lamp', 'night-market'] as const;
export type SkyName = (typeof SKIES)[number];
export const SKY_LABELS: Readonly<Record<SkyName, string>> = {
  'quay-at-dawn': 'Quay at dawn',
  'overcast-harbour': 'Overcast harbour',
  'boathouse-lamp': 'Boathouse lamp',
  'night-market': 'Night market',
};
