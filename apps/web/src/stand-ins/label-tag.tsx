/** A label as people at work see it: a band of its colour and its name. */
export function LabelTag({
  label,
}: {
  readonly label: { readonly name: string; readonly colour: string } | null;
}) {
  if (!label) return <span className="italic">no label</span>;
  return (
    <span className="border-l-[6px] pl-1.5" style={{ borderColor: label.colour }}>
      {label.name}
    </span>
  );
}
