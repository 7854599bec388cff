'use client';
import type Konva from 'konva';
import { useEffect, useRef } from 'react';
import { Group, Image as KonvaImage, Rect, Text, Transformer } from 'react-konva';
import type { BuyerField, FieldBox, PersonalLayer } from '../../core/personal';
import type { Field } from '../../core/print';
import { useImage } from './laid-design';
import { useSvgAddress } from './svg-address';

/** A drawing of a buyer's words, where its box lies. */
export function DrawnField({
  layer,
  field,
}: {
  layer: Extract<PersonalLayer, { kind: 'drawing' }>;
  field: Field;
}) {
  const image = useImage(useSvgAddress(layer.svg));
  if (!image) return null;
  return <KonvaImage image={image} {...placed(layer.box, field)} listening={false} />;
}

const placed = ({ x, y, width, height, turn }: FieldBox, { across, down }: Field) => ({
  x: (x + width / 2) * across,
  y: (y + height / 2) * down,
  width: width * across,
  height: height * down,
  offsetX: (width * across) / 2,
  offsetY: (height * down) / 2,
  rotation: turn,
});

/** The box of a field: chosen, it is moved, sized and turned by hand. */
export function FieldFrame({
  one,
  field,
  chosen,
  scale,
  onChoose,
  onBox,
}: {
  one: BuyerField;
  field: Field;
  chosen: boolean;
  scale: number;
  onChoose: () => void;
  onBox: (box: FieldBox) => void;
}) {
  const node = useRef<Konva.Rect>(null);
  const handles = useRef<Konva.Transformer>(null);
  useEffect(() => {
    if (chosen && node.current) handles.current?.nodes([node.current]);
  }, [chosen]);
  const at = placed(one.box, field);
  const now = (): FieldBox => {
    const it = node.current!;
    const width = (at.width * Math.abs(it.scaleX())) / field.across;
    const height = (at.height * Math.abs(it.scaleY())) / field.down;
    const box = {
      x: it.x() / field.across - width / 2,
      y: it.y() / field.down - height / 2,
      ...{ width, height, turn: it.rotation() },
    };
    it.scale({ x: 1, y: 1 });
    return box;
  };
  return (
    <Group>
      <Rect
        ref={node}
        {...at}
        stroke="#b45309"
        strokeWidth={chosen ? 2 : 1}
        strokeScaleEnabled={false}
        dash={[5 / scale, 4 / scale]}
        draggable={chosen}
        onMouseDown={onChoose}
        onTap={onChoose}
        onDragEnd={() => onBox(now())}
        onTransformEnd={() => onBox(now())}
      />
      <Text
        text={one.name}
        x={at.x - at.width / 2}
        y={at.y - at.height / 2 - 15 / scale}
        fontSize={12 / scale}
        fill="#b45309"
        listening={false}
      />
      {chosen && (
        <Transformer
          ref={handles}
          keepRatio={false}
          flipEnabled={false}
          rotationSnaps={[0, 45, 90, 135, 180, 225, 270, 315]}
          anchorStroke="#b45309"
          anchorSize={9}
          borderStroke="#b45309"
        />
      )}
    </Group>
  );
}
