/** Schedule left, sheet in the middle, findings right, score and text at the foot; they resize, collapse, and remember it. */
import { type ReactNode, useEffect, useRef } from "react";
import { Group, Panel, type PanelImperativeHandle, Separator, useDefaultLayout } from "react-resizable-panels";

interface Props {
  name: string;
  left?: ReactNode;
  middle: ReactNode;
  right?: ReactNode;
  foot?: [ReactNode, ReactNode];
  /** px: the height at which all of the foot is seen, unless a person has drawn it otherwise */
  footSize?: number;
  leftSize?: number;
  rightSize?: number;
}

/** px: the height of the foot where no more is asked for; what differs by more from what it was given was drawn */
export const FOOT = 208;
const DRAWN = 3;

/** A tablet: the panels begin smaller, the sheet keeps the room. */
const NARROW = window.innerWidth < 1100;

export function Panels({
  name,
  left,
  middle,
  right,
  foot,
  footSize = FOOT,
  leftSize = NARROW ? 252 : 292,
  rightSize = NARROW ? 216 : 254,
}: Props) {
  const footPanel = useFootOf(name, footSize);
  const upright = useDefaultLayout({ id: `orthotrope:${name}:upright`, storage: localStorage });
  return (
    <Group
      orientation="vertical"
      id={`${name}-upright`}
      defaultLayout={upright.defaultLayout}
      onLayoutChanged={upright.onLayoutChanged}
      className="h-full"
    >
      <Panel id="above" minSize={220}>
        <Across
          name={`${name}-above`}
          parts={[
            left && {
              id: "left",
              content: <aside className="h-full overflow-auto bg-panel">{left}</aside>,
              size: leftSize,
            },
            { id: "middle", content: middle },
            right && {
              id: "right",
              content: <aside className="h-full overflow-auto bg-panel">{right}</aside>,
              size: rightSize,
            },
          ]}
        />
      </Panel>
      {foot && (
        <>
          <Separator className="separator h-px" />
          <Panel
            id="foot"
            panelRef={footPanel}
            defaultSize={FOOT}
            minSize={90}
            collapsible
            groupResizeBehavior="preserve-pixel-size"
          >
            <Across
              name={`${name}-foot`}
              parts={[
                { id: "score", content: <div className="h-full bg-panel">{foot[0]}</div> },
                { id: "text", content: foot[1], size: 420 },
              ]}
            />
          </Panel>
        </>
      )}
    </Group>
  );
}

/** The foot has the height that it is given, until a person draws it otherwise: then that stays. */
function useFootOf(name: string, size: number) {
  const panel = useRef<PanelImperativeHandle>(null);
  useEffect(() => {
    const key = `orthotrope:${name}:foot`;
    const given = Number(localStorage.getItem(key) ?? FOOT);
    if (!panel.current || Math.abs(panel.current.getSize().inPixels - given) > DRAWN) return;
    panel.current.resize(size);
    localStorage.setItem(key, String(size));
  }, [name, size]);
  return panel;
}

interface Part {
  id: string;
  content: ReactNode;
  size?: number;
}

function Across({ name, parts }: { name: string; parts: unknown[] }) {
  const shown = parts.filter((part): part is Part => typeof part === "object" && part !== null);
  const layout = useDefaultLayout({ id: `orthotrope:${name}`, storage: localStorage });
  return (
    <Group
      orientation="horizontal"
      id={name}
      defaultLayout={layout.defaultLayout}
      onLayoutChanged={layout.onLayoutChanged}
      className="h-full"
    >
      {shown.flatMap((part, index) => [
        index > 0 && <Separator key={`${part.id}-edge`} className="separator w-px" />,
        <Panel
          key={part.id}
          id={part.id}
          defaultSize={part.size}
          minSize={part.size ? 160 : 320}
          collapsible={part.size !== undefined}
          groupResizeBehavior={part.size ? "preserve-pixel-size" : "preserve-relative-size"}
        >
          {part.content}
        </Panel>,
      ])}
    </Group>
  );
}
