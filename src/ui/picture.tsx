/** A supplier's picture, through Sampan's own server: a path of its service, or an address of its list. */
export function Picture({
  supplier,
  path,
  alt,
  size,
}: {
  supplier: string;
  path: string | undefined;
  alt: string;
  size: number;
}) {
  if (!path)
    return (
      <span
        role="img"
        aria-label="No picture"
        className="grid place-items-center rounded-sm border border-dashed border-edge text-[10px] text-muted"
        style={{ width: size, height: size }}
      >
        none
      </span>
    );
  return (
    <img
      src={
        path.startsWith('/')
          ? `/api/outside/${encodeURIComponent(supplier)}${path}`
          : `/api/address?picture=${encodeURIComponent(path)}`
      }
      alt={alt}
      width={size}
      height={size}
      loading="lazy"
      className="rounded-sm border border-rule bg-raised"
    />
  );
}
