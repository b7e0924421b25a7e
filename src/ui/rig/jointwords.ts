/** Joints of a figure in words: a bone turns at the joint where it begins. */
export interface BodyAxes {
  up: readonly [number, number, number];
  front: readonly [number, number, number];
  left: readonly [number, number, number];
}

const JOINTS: Readonly<Record<string, string>> = {
  hips: 'hips',
  spine: 'small of the back',
  chest: 'ribs',
  upperChest: 'breast',
  neck: 'root of the neck',
  head: 'head on the neck',
  Shoulder: 'collar bone',
  UpperArm: 'shoulder',
  LowerArm: 'elbow',
  Hand: 'wrist',
  UpperLeg: 'hip',
  LowerLeg: 'knee',
  Foot: 'ankle',
  Toes: 'ball of the foot',
};

const FINGERS = /^(left|right)(Thumb|Index|Middle|Ring|Little)(Metacarpal|Proximal|Intermediate|Distal)$/;
const PHALANX: Readonly<Record<string, string>> = { Metacarpal: 'root', Proximal: 'root', Intermediate: 'middle', Distal: 'end' };

/** “left elbow”; a bone of another name as it is called. */
export function jointWords(bone: string): string {
  const finger = FINGERS.exec(bone);
  if (finger) {
    const [, side, name, phalanx] = finger;
    const thumb = name === 'Thumb';
    return `${side} ${name.toLowerCase()}${thumb ? '' : ' finger'}, ${thumb && phalanx === 'Proximal' ? 'middle' : PHALANX[phalanx]}`;
  }
  const side = /^(left|right)(.+)$/.exec(bone);
  const word = JOINTS[side ? side[2] : bone];
  return word ? `${side ? `${side[1]} ` : ''}${word}` : bone;
}
