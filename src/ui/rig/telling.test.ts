import { expect, test } from 'vitest';
import { tell } from './telling';

test('a joint is one bone, a bone one joint; a bone that is said to be none leaves its joint to none', () => {
  const one = tell({}, 'leftHand', 'wrist_L', null);
  expect(one).toEqual({ wrist_L: 'leftHand' });
  expect(tell(one, 'leftHand', 'palm_L', 'wrist_L')).toEqual({ palm_L: 'leftHand' });
  expect(tell(one, 'leftLowerArm', 'wrist_L', null)).toEqual({ wrist_L: 'leftLowerArm' });
  expect(tell(one, 'leftHand', '', 'wrist_L')).toEqual({ wrist_L: null });
  expect(tell({}, 'leftHand', '', null)).toEqual({});
});
