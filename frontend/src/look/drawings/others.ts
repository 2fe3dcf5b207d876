// Caps and hats, toys, table and bath, bags, bands, and small goods.
import { both, box, ellipse, mirrored, type Drawing, type View } from "./shape";

const one = (view: Omit<View, "side"> & { side?: View["side"] }): Drawing => ({
  views: [{ side: "front", ...view }],
});

/** A cap from its side and from behind: a dome, a peak to one side, a strap. */
const capSides = (texture: View["texture"]): View[] => [
  {
    side: "side",
    body: "M-108 4C-112 -92 -58 -132 0 -132C60 -132 104 -90 108 4Z",
    over: "M104 -10C140 -8 176 8 190 30C160 26 130 22 106 16Z",
    lines: "M0 -132C-26 -100 -36 -50 -36 4M0 -132C30 -100 44 -50 46 4" + ellipse(0, -134, 7, 4),
    stitch: "M-104 -6L104 -6",
    texture,
    anchors: { side: [0, 4], seam: [-36, -40] },
  },
  {
    side: "back",
    body: both("M0 -132C70 -132 108 -84 110 6L52 6C50 -34 30 -52 0 -52"),
    over: both("M0 -4L54 -4L54 14L0 14"),
    lines: mirrored("M0 -132L0 -52M0 -132C40 -112 64 -66 72 6") + ellipse(0, -134, 7, 4),
    stitch: mirrored("M106 -6L60 -6"),
    texture,
    anchors: { back: [0, -112], top: [0, -132] },
    lengths: { back: 50 },
  },
];

const capFront = one({
  body: both("M0 -132C70 -132 108 -84 112 4C74 -8 36 -12 0 -12"),
  over: both("M0 -12C36 -12 74 -8 112 4C136 26 140 50 112 66C76 48 36 42 0 42"),
  lines:
    mirrored("M0 -132L0 -12M0 -132C46 -110 62 -60 66 -9") +
    ellipse(0, -134, 7, 4) +
    mirrored(ellipse(44, -92, 3.5)),
  stitch: mirrored(
    "M4 -128L4 -14M0 0C36 0 72 4 114 18M0 11C36 11 72 15 118 30M0 22C36 22 74 26 118 42M0 33C36 33 74 37 116 54",
  ),
  texture: "weave",
  anchors: { peak: [0, -12], seam: [0, -60], top: [0, -132] },
  length: 120,
});

const softFront = one({
  body: both("M0 -112C64 -114 116 -78 116 2C78 -8 36 -12 0 -12"),
  over: both("M0 -12C36 -12 78 -8 116 2C138 22 142 44 116 58C78 44 36 38 0 38"),
  lines:
    mirrored(
      "M0 -112C54 -96 70 -52 72 -9M84 -84C70 -78 60 -70 56 -62M96 -40C84 -42 78 -48 74 -54",
    ) + ellipse(0, -113, 7, 4),
  stitch: mirrored("M0 2C38 2 76 6 118 18M0 18C38 18 76 22 120 34"),
  texture: "weave",
  anchors: { peak: [0, -12], seam: [0, -60], top: [0, -112] },
  length: 100,
});

const cap: Drawing = { views: [...capFront.views, ...capSides("weave")] };
const softCap: Drawing = { views: [...softFront.views, ...capSides("weave")] };

const ribs = Array.from({ length: 19 }, (_, i) => -108 + i * 12);
const hat = one({
  body: both("M0 -150C74 -150 112 -92 112 0L0 0"),
  over: box(-118, -4, 236, 78, 12),
  lines:
    ribs.map((x) => `M${x} 4L${x} 66`).join("") +
    mirrored(
      "M0 -150C10 -110 14 -60 14 -4M0 -150C40 -118 50 -60 52 -4M0 -150C72 -120 86 -60 88 -4",
    ),
  texture: "knit",
  anchors: { top: [0, -4], fold: [0, -4], hem: [0, 74], seam: [0, -60], border: [0, -4] },
  length: 78,
});

const bearFront = one({
  body: ellipse(0, 220, 122, 138),
  behind: mirrored(ellipse(78, -80, 40)) + mirrored(ellipse(124, 176, 38, 84)),
  over: ellipse(0, 0, 108, 100) + mirrored(ellipse(94, 338, 60, 52)),
  lines:
    mirrored(ellipse(38, -14, 6)) +
    ellipse(0, 34, 46, 36) +
    ellipse(0, 18, 13, 9) +
    "M0 27L0 42" +
    mirrored("M0 42Q12 52 22 44") +
    mirrored(ellipse(94, 342, 34, 30)),
  stitch: "M0 108L0 340",
  texture: "pile",
  anchors: { top: [0, 118], seam: [0, 200], neckline: [0, 98], sole: [94, 308] },
  length: 180,
  lengths: { neckline: 230, sole: 64 },
});
const bear: Drawing = {
  views: [
    ...bearFront.views,
    {
      side: "back",
      body: ellipse(0, 220, 122, 138),
      behind: mirrored(ellipse(78, -80, 40)) + mirrored(ellipse(124, 176, 38, 84)),
      over: ellipse(0, 0, 108, 100) + mirrored(ellipse(94, 338, 60, 52)) + ellipse(0, 316, 26),
      stitch: "M0 108L0 288M0 -96L0 98",
      texture: "pile",
      anchors: { back: [0, 108], seam: [0, 200] },
      lengths: { back: 190 },
    },
  ],
};

// a bird from the side: what a thin part on a toy's side lies on
const bird: View = {
  side: "side",
  body: "M-150 -70C-150 -120 -96 -136 -64 -106C-40 -84 -8 -84 40 -74C110 -58 150 -8 214 -44C206 40 150 112 40 116C-60 120 -120 60 -126 -10C-134 -24 -150 -40 -150 -70Z",
  behind: "M-148 -82L-196 -62L-146 -54Z",
  over: "M-50 -34C-10 -62 66 -58 118 -8C110 46 66 70 4 62C-40 54 -66 4 -50 -34Z",
  lines: `${ellipse(-108, -84, 6)}M10 -16C44 -20 78 -8 100 14M4 14C34 12 62 20 80 36M-16 114L-24 148L-44 152M-24 148L-8 154M30 116L26 148L6 152M26 148L42 154`,
  texture: "pile",
  anchors: { wing: [34, -54] },
  lengths: { wing: 116 },
};

const rabbit = one({
  body: both("M0 40C60 60 96 120 108 210C112 262 80 292 0 292"),
  over:
    both(
      "M0 60C60 60 112 20 104 -46C100 -84 70 -104 38 -112C66 -170 100 -250 82 -316C70 -350 28 -346 16 -306C4 -264 6 -180 10 -114L0 -113",
    ) + mirrored(ellipse(66, 288, 46, 34)),
  lines: mirrored(
    `${ellipse(40, -34, 6)}M0 10Q12 22 24 14M30 -126C54 -180 82 -250 66 -304C58 -326 36 -322 28 -296C20 -250 20 -190 22 -126M-8 -10L8 -10L0 -2L0 10`,
  ),
  texture: "pile",
  anchors: { top: [46, -318], tip: [56, -330], seam: [46, -230], neckline: [0, 56] },
  length: 190,
  lengths: { tip: 210 },
});

const square = (half: number, hem: number): Pick<View, "body" | "stitch"> => ({
  body: box(-half, -half, 2 * half, 2 * half, 2),
  stitch: box(-half + hem, -half + hem, 2 * (half - hem), 2 * (half - hem)),
});

const napkin = one({
  ...square(230, 18),
  lines: mirrored("M212 -230L212 -212L230 -212M212 230L212 212L230 212"),
  texture: "weave",
  anchors: { corner: [230, 230], hem: [0, 230], top: [0, -230], border: [0, 212] },
  length: 460,
});

const kitchenCloth = one({
  body: box(-240, 0, 480, 680, 3),
  lines:
    [556, 566, 604, 614].map((y) => `M-240 ${y}L240 ${y}`).join("") + "M-14 0C-18 -34 18 -34 14 0",
  stitch: box(-230, 10, 460, 660),
  texture: "weave",
  anchors: { border: [0, 556], hem: [0, 680], top: [0, 0], corner: [240, 680] },
  length: 680,
});

const towelEnd = one({
  body: box(-250, 0, 500, 860, 5),
  over: box(-250, 736, 500, 44),
  lines: "M-250 746L250 746M-250 770L250 770",
  stitch: "M-240 10L-240 736M240 10L240 736M-240 846L240 846M-240 12L240 12",
  texture: "pile",
  anchors: { border: [0, 736], hem: [0, 860], top: [0, 0], corner: [250, 860] },
  length: 860,
});
const towel: Drawing = {
  views: [
    ...towelEnd.views,
    {
      side: "back",
      body: box(-330, 0, 660, 640, 5),
      over: "M-240 0L240 0Q120 150 0 220Q-120 150 -240 0Z",
      stitch: "M-220 12L220 12M-318 14L-318 628L318 628L318 14",
      texture: "pile",
      anchors: { hood: [0, 0] },
      lengths: { hood: 220 },
    },
  ],
};

const blanket = one({
  body: both(
    "M0 0C120 -4 240 2 350 -2Q366 0 366 16C362 320 370 620 366 900Q364 918 348 918C240 922 120 914 0 918",
  ),
  over: "M-366 640C-300 660 -200 690 -120 760C-70 806 -40 862 -34 918L-348 918Q-364 918 -366 900Z",
  stitch: "M-346 20L346 20L346 896",
  texture: "pile",
  anchors: { top: [0, 0], hem: [0, 918], corner: [366, 918], border: [0, 900], block: [60, 240] },
  length: 640,
  lengths: { block: 240 },
});

const fringe = Array.from({ length: 26 }, (_, i) => -150 + i * 12);
const scarf = one({
  body: box(-150, 0, 300, 820, 2),
  lines:
    fringe.map((x) => `M${x} 820L${x + (x % 36 === 0 ? 3 : -2)} 872`).join("") +
    "M-150 700L150 700M-150 716L150 716M-150 748L150 748M-150 764L150 764",
  texture: "knit",
  anchors: { top: [0, 380], hem: [0, 820], border: [0, 700], corner: [150, 820] },
  length: 310,
});

const cushion = one({
  body: both(
    "M0 -206C90 -210 170 -214 222 -222C214 -120 210 -60 210 0C210 60 214 120 222 222C170 214 90 210 0 206",
  ),
  lines: mirrored(
    "M0 -198C90 -202 160 -206 212 -212C206 -120 202 -60 202 0C202 60 206 120 212 212C160 206 90 202 0 198M200 -190C184 -170 168 -160 150 -156M200 190C184 170 168 160 150 156",
  ),
  texture: "weave",
  anchors: { top: [0, -206], hem: [0, 206], seam: [210, 0], corner: [222, 222] },
  length: 412,
});

const tote = one({
  body: both("M0 0L190 0L196 410Q98 416 0 416"),
  behind: mirrored("M88 0C88 -150 70 -220 0 -220L0 -246C92 -246 114 -160 114 0Z"),
  lines: mirrored("M88 0L88 64L114 64L114 0"),
  stitch:
    mirrored("M0 28L189 28M92 32L110 60M110 32L92 60M187 40L192 400") + box(-105, 210, 210, 160, 6),
  texture: "weave",
  anchors: { top: [0, 0], hem: [0, 416], seam: [193, 200], pocket: [0, 210], end: [101, -180] },
  length: 416,
  lengths: { pocket: 160, end: 180 },
});

const rucksack = one({
  body: both("M0 0C90 0 150 40 160 130L172 440Q172 476 136 478L0 480"),
  behind: mirrored(
    "M0 -50C26 -50 40 -36 40 2L26 2C26 -22 18 -34 0 -34ZM150 90C190 120 206 220 196 330L174 330Z",
  ),
  over: box(-128, 230, 256, 206, 24),
  lines:
    mirrored("M0 90C70 90 120 110 140 160") +
    "M-122 262L122 262M-122 268L122 268" +
    box(-6, 256, 12, 30, 4),
  stitch: box(-120, 276, 240, 152, 20),
  texture: "weave",
  anchors: {
    top: [0, 268],
    hem: [0, 480],
    seam: [128, 330],
    pocket: [0, 268],
    end: [178, 100],
  },
  length: 168,
  lengths: { end: 230 },
});

const pouch = one({
  body: box(-120, 0, 240, 160, 10),
  lines: "M-112 22L112 22M-112 28L112 28" + box(84, 18, 34, 14, 5) + box(-128, 30, 14, 40, 3),
  stitch: box(-112, 36, 224, 116, 6),
  anchors: { top: [0, 28], hem: [0, 160], seam: [120, 90], corner: [120, 160] },
  length: 132,
});

const tab = one({
  body: both("M0 -88L14 -88L14 -34C44 -30 58 -10 58 20C58 56 32 76 0 76"),
  over: "",
  lines: ellipse(0, -74, 7) + ellipse(0, -74, 3.5) + "M-14 -34L14 -34",
  stitch: both("M0 -27C38 -27 51 -8 51 20C51 51 29 69 0 69"),
  anchors: { top: [0, -34], hem: [0, 76], seam: [58, 20] },
  length: 110,
});

const pennant = one({
  body: both("M0 0L110 0L106 190L0 262"),
  lines: mirrored(ellipse(92, 14, 5)) + "M-150 -26C-70 8 70 8 150 -26",
  stitch: both("M0 10L101 10L97 184L0 250"),
  anchors: { top: [0, 0], hem: [0, 262], seam: [108, 90] },
  length: 220,
});

const dogCoat = one({
  body: both("M0 44C44 44 76 24 84 -20L124 -8C176 56 200 150 196 240C190 344 120 424 0 430"),
  behind: both("M0 -34C40 -34 72 -30 84 -20C76 24 44 44 0 44"),
  over:
    "M194 176L304 184Q312 206 304 228L196 236Z" + "M-194 176L-304 184Q-312 206 -304 228L-196 236Z",
  lines: mirrored("M0 58C54 58 92 36 100 -16M236 180L236 232M264 182L264 230"),
  stitch: both("M0 64C58 64 98 40 108 -8C164 58 186 150 184 240C178 336 112 412 0 418"),
  texture: "weave",
  anchors: {
    top: [0, 44],
    back: [0, 44],
    neckline: [0, 44],
    collar: [0, 44],
    hem: [0, 430],
    seam: [196, 240],
  },
  length: 386,
});

const belt = one({
  body: "M-330 -20L300 -20Q336 -20 348 0Q336 20 300 20L-330 20Z",
  over: box(-384, -32, 66, 64, 8) + box(-300, -25, 16, 50, 3),
  lines:
    box(-370, -20, 38, 40, 4) +
    "M-332 0L-378 0" +
    [176, 206, 236, 266, 296].map((x) => ellipse(x, 0, 3.5)).join(""),
  stitch: "M-310 -14L296 -14Q328 -14 338 0Q328 14 296 14L-310 14",
  anchors: { top: [0, -20], hem: [0, 20], seam: [0, -20] },
  length: 40,
});

const stocking = one({
  body: "M-95 0L95 0L92 250C94 300 140 320 186 350C228 384 212 450 146 452L24 452C-60 450 -92 400 -94 330Z",
  over: box(-104, 0, 208, 104, 8),
  lines:
    "M-93 300C-60 330 -56 400 -10 450M120 322C104 360 108 410 132 452M76 0C66 -44 112 -44 100 0",
  stitch: "M-98 92L98 92",
  texture: "knit",
  anchors: { top: [0, 0], border: [0, 104], hem: [0, 452], seam: [92, 200] },
  length: 104,
});

const LEGS = "M0 0L190 0L214 120C222 400 216 700 204 960L96 960C92 700 70 380 0 250";
const jeans: Drawing = {
  views: [
    {
      side: "front",
      body: both(LEGS),
      lines: mirrored("M0 36L193 36M104 36Q114 116 211 128M0 36L0 250M150 0L150 36"),
      stitch: mirrored("M112 40Q122 108 210 119M205 940L97 940M30 40Q34 180 4 220"),
      texture: "weave",
      anchors: { waist: [138, 36], hem: [150, 960], seam: [214, 400] },
    },
    {
      side: "back",
      body: both(LEGS),
      over: mirrored(box(52, 116, 118, 118, 6)),
      lines: mirrored("M0 36L193 36M0 96L204 76M0 36L0 250M70 0L70 36"),
      stitch: mirrored("M58 126L164 126M58 124L58 212L111 228L164 212L164 124M205 940L97 940"),
      texture: "weave",
      anchors: { pocket: [111, 116], seam: [214, 400] },
      lengths: { pocket: 118 },
    },
  ],
};

const blocks = [-200, 0, 200].map((x) => `M${x} 0L${x} 1000`).join("");
const quilt = one({
  body: box(-400, 0, 800, 1000, 4),
  lines: blocks + [200, 400, 600, 800].map((y) => `M-400 ${y}L400 ${y}`).join(""),
  stitch: [-300, -100, 100, 300]
    .flatMap((x) => [100, 300, 500, 700, 900].map((y) => box(x - 80, y - 80, 160, 160, 30)))
    .join(""),
  texture: "quilt",
  anchors: { top: [0, 0], hem: [0, 1000], corner: [400, 1000], block: [100, 400] },
  length: 1000,
  lengths: { block: 200 },
});

const folds = [-270, -190, -110, -30, 50, 130, 210, 290];
const curtain = one({
  body: "M-340 0L340 0C346 480 334 960 340 1400Q300 1412 260 1400Q220 1388 180 1400Q140 1412 100 1400Q60 1388 20 1400Q-20 1412 -60 1400Q-100 1388 -140 1400Q-180 1412 -220 1400Q-280 1386 -340 1400C-334 960 -346 480 -340 0Z",
  lines: folds.map((x) => `M${x} 60C${x + 8} 460 ${x - 6} 900 ${x + 4} 1330`).join(""),
  stitch: "M-338 60L338 60M-338 1350L338 1350",
  texture: "weave",
  anchors: { top: [0, 0], hem: [0, 1400], corner: [340, 1400], border: [0, 1350] },
  length: 1400,
});

const runner = one({
  body: box(-180, 0, 360, 1180, 2),
  lines:
    "M-150 1180L-150 1194M-90 1180L-90 1194M-30 1180L-30 1194M30 1180L30 1194M90 1180L90 1194M150 1180L150 1194",
  stitch: box(-166, 14, 332, 1152),
  texture: "weave",
  anchors: { top: [0, 0], hem: [0, 1180], corner: [180, 1180], border: [0, 1166] },
  length: 1180,
});

const bib = one({
  body: both(
    "M0 62C42 62 66 34 66 -8C66 -58 92 -84 116 -70C140 -52 132 -12 142 40C176 160 150 292 0 300",
  ),
  lines: mirrored("M0 74C52 74 78 40 78 -8C80 -44 94 -64 110 -60") + ellipse(98, -62, 8),
  stitch: mirrored("M0 286C134 280 160 160 130 44C122 -2 126 -40 110 -52"),
  texture: "knit",
  anchors: { top: [0, 62], neckline: [0, 62], collar: [0, 62], hem: [0, 300], seam: [150, 160] },
  length: 238,
});

const patch = one({
  body: "M-60 -62L60 -62L60 40L0 66L-60 40Z",
  lines: "M-60 -46L60 -46",
  stitch: "M-54 -56L54 -56M-54 -40L-54 36L0 60L54 36L54 -40",
  texture: "weave",
  anchors: { top: [0, -62], hem: [0, 66], seam: [60, 0] },
  length: 118,
});

const petals = Array.from({ length: 12 }, (_, i) => {
  const [x, y] = [Math.cos((i * Math.PI) / 6), Math.sin((i * Math.PI) / 6)];
  return ellipse(Math.round(x * 66), Math.round(y * 66), 17);
}).join("");
const lace = one({
  body: ellipse(0, 0, 82),
  lines: petals + ellipse(0, 0, 46) + ellipse(0, 0, 40) + ellipse(0, 0, 14),
  stitch: ellipse(0, 0, 28),
  anchors: { top: [0, -82], hem: [0, 82], seam: [82, 0] },
  length: 164,
});

export const others = {
  "structured-cap": cap,
  "soft-cap": softCap,
  "knitted-hat": hat,
  "stuffed-toy": bear,
  "toy-thin-part": { views: [...rabbit.views, bird] },
  "table-linen": napkin,
  "kitchen-cloth": kitchenCloth,
  "terry-towel": towel,
  "plush-blanket": blanket,
  scarf,
  "cushion-cover": cushion,
  "canvas-bag": tote,
  "kit-bag": rucksack,
  vinyl: pouch,
  "in-the-hoop": tab,
  felt: pennant,
  "dog-coat": dogCoat,
  belt,
  stocking,
  jeans,
  quilt,
  curtain,
  "table-runner": runner,
  bib,
  patch,
  lace,
};
