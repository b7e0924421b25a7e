/** The browser's thread for forms: small, so that it stands while a page is still being put together. */
import { expose } from 'comlink';
import type { WornSaid } from '@/core/fit/worn';
import { bareUnderCloth } from '@/core/fit/wornbare';
import { asOne, clothAt, type WornPoseRow, wornOverPoses } from '@/core/fit/wornfit';
import { type Form, type FormSize, makeForm } from '@/core/form';
import { bodyRest, type DrawnBody, drawnBody, shapeBody } from '@/core/form/body';
import type { Model } from '@/core/model';
import { bodyBase, formBase } from './formbase';

export interface Cloth {
  positions: Float32Array;
  triangles: Uint32Array;
  levels: Uint8Array;
}

const forms = {
  /** Makes or fetches what every form is made from, before one is asked for. */
  async warm(): Promise<void> {
    await formBase();
  },
  makeBody: async (size: FormSize): Promise<DrawnBody> => drawnBody(shapeBody(await bodyBase(), size)),
  /** How a garment sits over the body's poses. */
  async wornOverPoses(model: Model, said: WornSaid, size: FormSize): Promise<WornPoseRow[]> {
    return wornOverPoses(model, said, bodyRest(size).skeleton, drawnBody(shapeBody(await bodyBase(), size)));
  },
  /** Cloth as it lies on the body at rest, and where that lies over the skin: levels of `packBare`. */
  async wornBare(model: Model, said: WornSaid, size: FormSize): Promise<Cloth> {
    const { skeleton } = bodyRest(size);
    const levels = bareUnderCloth(model, said, skeleton, drawnBody(shapeBody(await bodyBase(), size)));
    return { ...asOne(clothAt(model, said, skeleton)), levels };
  },
  makeForm: async (size: FormSize): Promise<Form> => makeForm(await formBase(), size),
};
export type Forms = typeof forms;
expose(forms);
