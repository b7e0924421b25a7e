/** Rest poses that figures and garments are handed on in: straight arms, so far below level, °. *Common practice.* */
export const REST_STANCES = { T: 0, A: 44, half: 58 } as const;
export type RestStance = keyof typeof REST_STANCES;
export const REST_STANCE_NAMES = Object.keys(REST_STANCES) as RestStance[];
