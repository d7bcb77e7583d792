import { expect } from 'chai';
import { digestBytes } from '#core/base/stamp.ts';
import { digestFast } from '../../src/platform/digest.ts';

describe('digests', () => {
  /** Source: FIPS 180-4 examples, "abc". */
  const ABC = 'ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad';
  const abc = Uint8Array.of(97, 98, 99);

  it('are those of the standard, by the engine and by code', async () => {
    expect(digestBytes(abc)).to.equal(ABC);
    expect(await digestFast(abc)).to.equal(ABC);
    const many = Uint8Array.from({ length: 100_003 }, (_, i) => (i * 31) & 255);
    expect(await digestFast(many)).to.equal(digestBytes(many));
    expect(await digestFast(many.subarray(5, 77))).to.equal(digestBytes(many.subarray(5, 77)));
  });

  it('are there where the engine has none, as in pages without encryption', async () => {
    const own = Object.getOwnPropertyDescriptor(globalThis, 'crypto');
    Object.defineProperty(globalThis, 'crypto', { value: {}, configurable: true });
    try {
      expect(await digestFast(abc)).to.equal(ABC);
    } finally {
      if (own) Object.defineProperty(globalThis, 'crypto', own);
    }
  });
});
