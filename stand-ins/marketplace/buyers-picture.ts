import { crc32, deflateSync } from 'node:zlib';

const chunk = (type: string, data: Buffer): Buffer => {
  const out = Buffer.alloc(12 + data.length);
  out.writeUInt32BE(data.length);
  out.write(type, 4, 'latin1');
  data.copy(out, 8);
  out.writeUInt32BE(crc32(out.subarray(4, 8 + data.length)), 8 + data.length);
  return out;
};

const SIZE = 1_200;

/** A picture that a buyer sent: a sun over a sea, another one for each name. */
export function buyersPicture(name: string): Buffer {
  const hue = [...name].reduce((sum, sign) => sum + sign.charCodeAt(0), 0) % 90;
  const rows = Buffer.alloc(SIZE * (1 + 3 * SIZE));
  for (let y = 0; y < SIZE; y++)
    for (let x = 0; x < SIZE; x++) {
      const sky = y / SIZE;
      const sun = Math.hypot(x - 700, y - 520) < 170;
      const sea = y > 760;
      const wave = sea && (x + (y - 760) * 3) % 190 < 60;
      const at = y * (1 + 3 * SIZE) + 1 + 3 * x;
      rows[at] = sun ? 252 : sea ? 40 + hue / 2 : 250 - 90 * sky;
      rows[at + 1] = sun ? 214 : sea ? (wave ? 128 : 92) : 150 + hue - 70 * sky;
      rows[at + 2] = sun ? 120 : sea ? (wave ? 160 : 130) : 120 + 60 * sky;
    }
  const head = Buffer.alloc(13);
  head.writeUInt32BE(SIZE, 0);
  head.writeUInt32BE(SIZE, 4);
  head.set([8, 2], 8);
  return Buffer.concat([
    Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}
