// Every part in every state, for those who build it: not in the navigation.
import { drawings, extent } from "../../look/drawings";
import { Goods } from "../../look/drawings/Goods";

const TILE = 150;

export default function PartsPage() {
  return (
    <main className="standards">
      <h1>Parts</h1>
      <section aria-label="Goods">
        <h2>Goods</h2>
        <ul className="goods-sheet">
          {Object.entries(drawings).flatMap(([id, { views }]) =>
            views.map((view) => {
              const { x, y, width, height } = extent(view);
              const scale = Math.min(TILE / width, TILE / height);
              return (
                <li key={id + view.side}>
                  <svg
                    width={TILE + 12}
                    height={TILE + 12}
                    role="img"
                    aria-label={`${id}, ${view.side}`}
                  >
                    <g
                      transform={`translate(${6 + (TILE - width * scale) / 2} ${6 + (TILE - height * scale) / 2}) scale(${scale}) translate(${-x} ${-y})`}
                    >
                      <Goods view={view} scale={scale} />
                      {Object.entries(view.anchors).map(([name, [ax, ay]]) => (
                        <circle key={name} cx={ax} cy={ay} r={2.5 / scale} fill="var(--stop)" />
                      ))}
                    </g>
                  </svg>
                  <span>
                    {id}, {view.side}
                  </span>
                </li>
              );
            }),
          )}
        </ul>
      </section>
    </main>
  );
}
