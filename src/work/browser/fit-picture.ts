import type { FitPicture } from '../context/work';

/** {@link FitPicture} in a browser, on the page and in workers. @throws where the picture cannot be opened */
export const fitPicture: FitPicture = async (file, width, height) => {
  const bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
  const scale = Math.min(width / bitmap.width, height / bitmap.height);
  const [w, h] = [bitmap.width * scale, bitmap.height * scale];
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#fff';
  context.fillRect(0, 0, width, height);
  context.imageSmoothingQuality = 'high';
  context.drawImage(bitmap, (width - w) / 2, (height - h) / 2, w, h);
  bitmap.close();
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 });
};
