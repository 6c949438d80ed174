import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";

type Props = { view: Schemas["FileViewOut"]; marks?: readonly Schemas["PlaceOut"][] };

const ROOM = 24;

/** A file layer by layer: the lines of one as hairlines, the one below fainter, on the sheet of the bed. */
export function LayerView({ view, marks = [] }: Props) {
  const [at, setAt] = useState(view.layers.length - 1);
  const canvas = useRef<HTMLCanvasElement>(null);
  const slider = useRef<HTMLInputElement>(null);
  useEffect(() => slider.current?.focus({ preventScroll: true }), []);
  const [width, setWidth] = useState(600);
  const layer = view.layers[at];
  useEffect(() => {
    const element = canvas.current?.parentElement;
    if (!element) return;
    const observer = new ResizeObserver(() => setWidth(Math.max(280, element.clientWidth)));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const box = boxOf(view);
  const tall = Math.max(260, Math.min(560, window.innerHeight - 330));
  const scale = Math.min((width - 2 * ROOM) / box.width, tall / box.depth);
  const height = Math.round(box.depth * scale + 2 * ROOM);
  useEffect(() => {
    const element = canvas.current;
    const pen = element?.getContext("2d");
    if (!element || !pen) return;
    const style = getComputedStyle(element);
    const dots = window.devicePixelRatio || 1;
    element.width = width * dots;
    element.height = height * dots;
    pen.setTransform(dots, 0, 0, dots, 0, 0);
    const aside = (width - box.width * scale) / 2;
    const x = (value: number) => aside + (value - box.left) * scale;
    const y = (value: number) => height - ROOM - (value - box.front) * scale;
    const draw = (lines: readonly number[], colour: string, thick: number) => {
      pen.strokeStyle = style.getPropertyValue(colour);
      pen.lineWidth = thick;
      pen.beginPath();
      for (let index = 0; index + 3 < lines.length; index += 4) {
        const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = lines.slice(index, index + 4);
        pen.moveTo(x(x0 / 100), y(y0 / 100));
        pen.lineTo(x(x1 / 100), y(y1 / 100));
      }
      pen.stroke();
    };
    pen.clearRect(0, 0, width, height);
    const below = view.layers[at - 1];
    if (below) draw(below.lines, "--rule", 1);
    if (layer) draw(layer.lines, "--ink", 1.25);
    pen.fillStyle = style.getPropertyValue("--mark");
    for (const mark of marks) {
      if (mark.state === "later") continue;
      pen.fillRect(x(mark.x) - 3, y(mark.y) - 3, 6, 6);
    }
  }, [at, layer, view, marks, width, height, scale, box.left, box.front, box.width]);
  if (!layer) return <p className="text-reason">Nothing is printed in this file.</p>;
  return (
    <div>
      <div className="border border-rule bg-well">
        <canvas
          ref={canvas}
          style={{ width, height }}
          role="img"
          aria-label={`Layer ${at + 1} of ${view.layers.length}, ${layer.z_mm.toFixed(2)} mm high, ${layer.lines.length / 4} lines`}
        />
      </div>
      <label className="mt-2 flex flex-wrap items-center gap-x-4 text-reason">
        <span className="w-56">
          Layer <strong>{at * view.every + 1}</strong>, top at <strong>{layer.z_mm.toFixed(2)} mm</strong>
        </span>
        <input
          ref={slider}
          type="range"
          className="h-11 min-w-48 flex-1 accent-mark"
          min={0}
          max={view.layers.length - 1}
          value={at}
          onChange={(event) => setAt(Number(event.target.value))}
        />
      </label>
      {view.every > 1 && (
        <p className="text-small text-ink-2">
          A long file: every {view.every} layers one is drawn; all of them were checked.
        </p>
      )}
    </div>
  );
}

/** The part of the bed that the piece stands on; a prime line in the first layer does not make it small. */
function boxOf(view: Schemas["FileViewOut"]) {
  let [left, right, front, back] = [Infinity, -Infinity, Infinity, -Infinity];
  const piece = view.layers.length > 1 ? view.layers.slice(1) : view.layers;
  for (const layer of piece) {
    for (let index = 0; index < layer.lines.length; index += 2) {
      const x = (layer.lines[index] ?? 0) / 100;
      const y = (layer.lines[index + 1] ?? 0) / 100;
      left = Math.min(left, x);
      right = Math.max(right, x);
      front = Math.min(front, y);
      back = Math.max(back, y);
    }
  }
  if (left === Infinity) return { left: 0, front: 0, width: 1, depth: 1 };
  const room = view.layers.length > 1 ? 4 : 0;
  return {
    left: left - room,
    front: front - room,
    width: Math.max(1, right - left + 2 * room),
    depth: Math.max(1, back - front + 2 * room),
  };
}
