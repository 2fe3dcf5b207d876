// Tops: shirts, sweatshirts, jackets, gilets, robes. The collar point is the origin.
import { both, box, ellipse, mirrored, type Drawing, type View } from "./shape";

const SHORT_SLEEVE =
  "L230 40C280 66 336 128 374 196L300 262L258 226C253 400 257 560 262 714Q130 724 0 724";
const SHORT_SEAM = "M230 40C212 100 226 180 258 226";
const LONG_SLEEVE =
  "L236 44C292 62 326 136 350 236C376 352 396 470 408 596L332 608C320 490 304 372 272 262";
const LONG_SEAM = "M236 44C216 110 232 200 272 262";
const CUFF = "M402 540L326 552";

/** A sleeve from its outer side: the fold is its centre line. */
function sleeve(length: number, head: number, cuff: number, rib = 0): View {
  return {
    side: "side",
    body: both(
      `M0 0C${head * 0.5} 0 ${head * 0.8} ${length * 0.1} ${head} ${length * 0.26}` +
        `C${head * 0.95} ${length * 0.55} ${cuff * 1.12} ${length * 0.8} ${cuff} ${length}L0 ${length}`,
    ),
    lines: rib ? mirrored(`M0 ${length - rib}L${cuff * 1.03} ${length - rib}`) : undefined,
    stitch: rib ? undefined : mirrored(`M0 ${length - 20}L${cuff * 1.03} ${length - 20}`),
    anchors: { cuff: [0, length], shoulder: [0, 0], seam: [head, length * 0.26] },
  };
}

const top = (view: Partial<View> & Pick<View, "side" | "body" | "anchors">): View => ({
  ...view,
  anchors: { shoulder: [160, 20], hem: [0, 716], seam: [262, 480], ...view.anchors },
});

const shortHem = mirrored("M358 180L285 247M261 696Q130 706 0 706");

const tShirt: Drawing = {
  views: [
    top({
      side: "front",
      body: both(`M0 100C52 100 84 62 90 0${SHORT_SLEEVE}`),
      behind: both("M0 24C46 24 78 14 90 0C84 62 52 100 0 100"),
      lines: mirrored(`${SHORT_SEAM}M0 120C64 120 104 72 109 6`),
      stitch: shortHem,
      texture: "knit",
      anchors: { collar: [0, 0], neckline: [0, 100], cuff: [337, 229] },
    }),
    top({
      side: "back",
      body: both(`M0 24C46 24 80 14 90 0${SHORT_SLEEVE}`),
      lines: mirrored(`${SHORT_SEAM}M0 44C58 44 98 30 109 5`),
      stitch: shortHem,
      texture: "knit",
      anchors: { collar: [0, 24], neckline: [0, 24] },
    }),
    sleeve(220, 118, 104),
  ],
};

const polo: Drawing = {
  views: [
    top({
      side: "front",
      body: both(`M0 0L90 0${SHORT_SLEEVE}`),
      behind: both("M0 -28C44 -28 78 -20 92 -4C70 14 24 30 0 38"),
      over: `M92 -6C106 26 96 70 68 106L0 38C24 30 66 14 76 -10ZM-92 -6C-106 26 -96 70 -68 106L0 38C-24 30 -66 14 -76 -10Z${box(-17, 38, 34, 152)}`,
      lines: mirrored(SHORT_SEAM) + [74, 112, 150].map((y) => ellipse(0, y, 5)).join(""),
      stitch: mirrored("M261 696Q130 706 0 706M-11 176L11 176"),
      texture: "knit",
      anchors: { collar: [0, 0], neckline: [0, 38], cuff: [337, 229] },
    }),
    top({
      side: "back",
      body: both(`M0 14L90 0${SHORT_SLEEVE}`),
      over: both("M0 -34C50 -34 84 -24 96 -2C70 22 34 28 0 28"),
      lines: mirrored(SHORT_SEAM),
      stitch: mirrored("M261 696Q130 706 0 706"),
      texture: "knit",
      anchors: { collar: [0, 28], neckline: [0, 28] },
    }),
    sleeve(220, 118, 92, 26),
  ],
};

const hoodedHem = "C268 400 270 540 272 704Q136 712 0 712";
const sweatLines = `${LONG_SEAM}${CUFF}M272 650Q136 658 0 658`;
const sweatshirt: Drawing = {
  views: [
    top({
      side: "front",
      body: both(`M0 100C56 100 92 70 104 6${LONG_SLEEVE}${hoodedHem}`),
      behind: both("M0 -150C70 -150 132 -80 112 10C96 66 60 96 0 112"),
      over: both("M0 440L104 440L152 520L156 640L0 640"),
      lines: mirrored(
        `${sweatLines}M0 -104C44 -104 84 -60 76 6C66 60 36 92 0 112M22 108C24 150 20 190 24 226`,
      ),
      stitch: mirrored("M104 452L140 520L144 640"),
      texture: "knit",
      anchors: { collar: [0, 0], neckline: [0, 112], cuff: [370, 602] },
    }),
    top({
      side: "back",
      body: both(`M0 24C46 24 88 16 104 6${LONG_SLEEVE}${hoodedHem}`),
      over: both("M0 -70C62 -70 104 -40 110 8C106 88 60 150 0 158"),
      lines: mirrored(`${sweatLines}M0 -70L0 158`),
      texture: "knit",
      anchors: { collar: [0, 24], neckline: [0, 24] },
    }),
    sleeve(560, 122, 52, 56),
  ],
};

const shirtHem = "C268 420 272 560 268 680C262 726 190 750 136 762Q60 776 0 778";
const COLLAR = "M94 -6C104 30 92 76 60 112L0 40C26 30 68 14 78 -12Z";
const OTHER_COLLAR = "M-94 -6C-104 30 -92 76 -60 112L0 40C-26 30 -68 14 -78 -12Z";
const STAND = both("M0 -30C44 -30 80 -22 94 -6C72 14 24 30 0 40");
const shirt: Drawing = {
  views: [
    top({
      side: "front",
      body: both(`M0 0L90 0${LONG_SLEEVE}${shirtHem}`),
      behind: STAND,
      over: COLLAR + OTHER_COLLAR,
      lines:
        mirrored(`${LONG_SEAM}${CUFF}`) +
        "M-18 58L-18 777M18 58L18 777" +
        [110, 200, 290, 380, 470, 560, 650].map((y) => ellipse(0, y, 5)).join(""),
      stitch: mirrored("M92 22L232 64"),
      texture: "weave",
      anchors: { collar: [0, 0], neckline: [0, 40], cuff: [370, 602], hem: [0, 778] },
    }),
    top({
      side: "back",
      body: both(`M0 14L90 0${LONG_SLEEVE}${shirtHem}`),
      over: both("M0 -34C50 -34 84 -24 96 -2C70 20 34 26 0 26"),
      lines: mirrored(`${LONG_SEAM}${CUFF}M0 130L226 122M14 130L14 776`),
      texture: "weave",
      anchors: { collar: [0, 26], neckline: [0, 26], hem: [0, 778], fold: [0, -34] },
    }),
    sleeve(580, 122, 56, 60),
  ],
};

const denim: Drawing = {
  views: [
    top({
      side: "front",
      body: both(`M0 0L90 0${LONG_SLEEVE}C268 380 262 480 256 596L0 602`),
      behind: STAND,
      over:
        COLLAR +
        OTHER_COLLAR +
        box(76, 196, 130, 44, 4) +
        box(-206, 196, 130, 44, 4) +
        both("M0 552L259 546L256 596L0 602"),
      lines:
        mirrored(`${LONG_SEAM}${CUFF}M20 176L240 168M86 240L70 548M196 240L150 549`) +
        "M-18 58L-18 601M18 58L18 601" +
        [110, 190, 270, 350, 430, 510, 576].map((y) => ellipse(0, y, 6)).join(""),
      stitch: mirrored("M22 184L238 176M81 202L201 202M92 244L76 546M190 244L144 547M28 64L28 548"),
      texture: "weave",
      anchors: { collar: [0, 0], neckline: [0, 40], cuff: [370, 602], hem: [0, 602] },
    }),
    top({
      side: "back",
      body: both(`M0 14L90 0${LONG_SLEEVE}C268 380 262 480 256 596L0 602`),
      over:
        both("M0 -34C50 -34 84 -24 96 -2C70 20 34 26 0 26") + both("M0 552L259 546L256 596L0 602"),
      lines: mirrored(`${LONG_SEAM}${CUFF}M0 190L240 168M110 180L80 549`),
      stitch: mirrored("M0 198L238 176M116 182L86 549"),
      texture: "weave",
      anchors: { collar: [0, 26], neckline: [0, 26], hem: [0, 602], fold: [0, -34] },
    }),
    sleeve(580, 122, 56, 50),
  ],
};

/** A jacket with a stand collar and a zip. */
function jacket(texture: View["texture"], zip: number, extra = ""): Drawing {
  const hem = "C270 400 272 560 272 704L0 710";
  return {
    views: [
      top({
        side: "front",
        body: both(`M0 0L90 0${LONG_SLEEVE}${hem}`),
        behind: both("M0 -62C40 -62 78 -54 92 -40L96 0C70 30 30 40 0 44"),
        over:
          "M96 -44C104 -20 104 6 98 22C70 48 30 60 0 62L0 44C30 40 66 20 84 -30Z" +
          "M-96 -44C-104 -20 -104 6 -98 22C-70 48 -30 60 0 62L0 44C-30 40 -66 20 -84 -30Z",
        lines: mirrored(`${LONG_SEAM}${CUFF}${extra}`) + `M-3 46L-3 ${zip}M3 46L3 ${zip}`,
        stitch: mirrored(`M12 62L12 ${zip}M270 684L14 690`),
        texture,
        anchors: { collar: [0, 0], neckline: [0, 62], cuff: [370, 602], hem: [0, 710] },
      }),
      top({
        side: "back",
        body: both(`M0 14L90 0${LONG_SLEEVE}${hem}`),
        over: both("M0 -66C50 -66 86 -56 98 -42L100 0C70 26 34 32 0 32"),
        lines: mirrored(`${LONG_SEAM}${CUFF}`),
        stitch: mirrored("M270 684L0 690M0 150L228 130"),
        texture,
        anchors: { collar: [0, 32], neckline: [0, 32], hem: [0, 710], fold: [0, -66] },
      }),
      sleeve(590, 122, 54, 40),
    ],
  };
}

const softshell = jacket("weave", 708, "M230 470L176 600M96 60C110 200 120 300 118 708");
const fleece = jacket("knit", 300, "M24 300L24 308L0 308M272 660Q136 668 0 668");

const SLEEVELESS = "L196 34C176 110 190 190 258 246C254 400 256 560 262 690L0 698";
const gilet: Drawing = {
  views: [
    top({
      side: "front",
      body: both(`M0 0L90 0${SLEEVELESS}`),
      behind: both("M0 -62C40 -62 78 -54 92 -40L96 0C70 30 30 40 0 44"),
      over:
        "M96 -44C104 -20 104 6 98 22C70 48 30 60 0 62L0 44C30 40 66 20 84 -30Z" +
        "M-96 -44C-104 -20 -104 6 -98 22C-70 48 -30 60 0 62L0 44C-30 40 -66 20 -84 -30Z",
      lines:
        mirrored(
          "M6 110C70 116 130 112 182 106M6 190C70 196 160 196 206 190M6 280L257 274M6 370L256 364" +
            "M6 460L256 454M6 550L257 544M6 640L260 634",
        ) + "M-3 46L-3 697M3 46L3 697",
      stitch: mirrored("M186 40C166 112 180 196 254 254"),
      texture: "quilt",
      anchors: { collar: [0, 0], neckline: [0, 62], hem: [0, 698] },
    }),
    top({
      side: "back",
      body: both(`M0 14L90 0${SLEEVELESS}`),
      over: both("M0 -66C50 -66 86 -56 98 -42L100 0C70 26 34 32 0 32"),
      lines: mirrored(
        "M0 110L180 104M0 190L206 184M0 280L257 274M0 370L256 364M0 460L256 454M0 550L257 544M0 640L260 634",
      ),
      texture: "quilt",
      anchors: { collar: [0, 32], neckline: [0, 32], hem: [0, 698], fold: [0, -66] },
    }),
  ],
};

const vest: Drawing = {
  views: [
    top({
      side: "front",
      body: both("M0 260L86 0L176 30C168 110 180 190 270 250L272 660L0 660"),
      behind: both("M0 26L86 0L0 260"),
      over: box(-271, 420, 542, 54) + box(-272, 560, 544, 54),
      lines: "M0 260L0 660" + mirrored("M98 0L14 260"),
      stitch: mirrored("M166 36C158 112 172 194 268 258M0 650L270 650"),
      anchors: { collar: [0, 0], neckline: [0, 260], hem: [0, 660] },
    }),
    top({
      side: "back",
      body: both("M0 26L86 0L176 30C168 110 180 190 270 250L272 660L0 660"),
      over: box(-271, 420, 542, 54) + box(-272, 560, 544, 54),
      stitch: mirrored("M166 36C158 112 172 194 268 258M0 650L270 650"),
      anchors: { collar: [0, 26], neckline: [0, 26], hem: [0, 660] },
    }),
  ],
};

const robe: Drawing = {
  views: [
    top({
      side: "front",
      body: both(
        "M0 0L84 -4L240 44C310 76 352 180 380 300C402 404 420 500 432 590L318 606C308 510 296 420 276 330C286 600 312 860 330 1120L0 1130",
      ),
      behind: both("M0 -34C48 -34 76 -22 84 -4C66 120 30 220 0 300"),
      over:
        "M84 -6C112 20 118 60 108 110C76 250 20 420 -40 560L-72 540C-20 420 30 280 58 150C68 96 72 40 66 -18Z" +
        "M-84 -6C-112 20 -118 60 -108 110C-92 190 -60 290 -24 380L4 314C-24 250 -46 200 -58 150C-68 96 -72 40 -66 -18Z" +
        both("M0 548L276 540L278 596L0 604") +
        mirrored(box(96, 660, 150, 150, 6)),
      lines:
        mirrored("M240 44C222 130 236 240 276 330M424 540L312 556") +
        "M-44 604C-50 760 -64 940 -70 1128",
      texture: "pile",
      anchors: {
        collar: [0, 0],
        neckline: [0, 300],
        cuff: [375, 598],
        hem: [0, 1130],
        pocket: [171, 660],
      },
      lengths: { pocket: 150 },
    }),
    top({
      side: "back",
      body: both(
        "M0 10L84 -4L240 44C310 76 352 180 380 300C402 404 420 500 432 590L318 606C308 510 296 420 276 330C286 600 312 860 330 1120L0 1130",
      ),
      over:
        both("M0 -40C56 -40 84 -28 92 -4C70 24 34 30 0 30") + both("M0 548L276 540L278 596L0 604"),
      lines: mirrored("M240 44C222 130 236 240 276 330M424 540L312 556"),
      texture: "pile",
      anchors: { collar: [0, 30], neckline: [0, 30], hem: [0, 1130] },
    }),
    sleeve(560, 150, 74, 70),
  ],
};

const tunicHem = "L230 40C280 66 336 128 374 196L300 262L258 226C250 400 262 600 276 790L0 796";
const tunic: Drawing = {
  views: [
    top({
      side: "front",
      body: both(`M0 120C40 110 84 62 90 0${tunicHem}`),
      behind: both("M0 24C46 24 78 14 90 0C84 62 40 110 0 120"),
      over: box(60, 560, 150, 160, 4) + box(-210, 560, 150, 160, 4),
      lines: mirrored(`${SHORT_SEAM}M0 140C52 130 104 72 108 5`),
      stitch: mirrored("M358 180L285 247M274 770L0 776M66 574L206 574M262 470L278 770"),
      texture: "weave",
      anchors: { collar: [0, 0], neckline: [0, 120], cuff: [337, 229], hem: [0, 796] },
    }),
    top({
      side: "back",
      body: both(`M0 24C46 24 80 14 90 0${tunicHem}`),
      lines: mirrored(`${SHORT_SEAM}M0 44C58 44 98 30 109 5`) + "M0 24L0 796",
      stitch: mirrored("M358 180L285 247M274 770L0 776"),
      texture: "weave",
      anchors: { collar: [0, 24], neckline: [0, 24], hem: [0, 796] },
    }),
  ],
};

const apron: Drawing = {
  views: [
    {
      side: "front",
      body: both("M0 0L130 0C138 120 190 220 300 262L300 720Q150 728 0 728"),
      over: box(-120, 430, 240, 160, 8),
      lines:
        mirrored(
          "M104 2C112 -90 76 -168 0 -168M124 2C134 -104 90 -190 0 -190M300 262C348 268 372 300 378 372M300 284C336 290 356 316 362 374",
        ) + "M0 430L0 590",
      stitch: mirrored(
        "M0 16L128 16M140 60C160 150 206 232 292 276L292 712M0 718L292 711M0 448L112 448",
      ),
      texture: "weave",
      anchors: {
        collar: [0, -160],
        neckline: [0, 0],
        hem: [0, 728],
        seam: [300, 480],
        top: [0, 0],
        waist: [0, 262],
        pocket: [0, 430],
      },
      lengths: { pocket: 160 },
    },
  ],
};

const bodysuit: Drawing = {
  views: [
    {
      side: "front",
      body: both(
        "M0 52C32 52 58 32 64 0L112 22C140 46 156 76 170 106L132 132L118 116C113 180 117 236 126 290C98 300 70 330 58 388Q28 396 0 396",
      ),
      behind: both("M0 16C30 16 54 10 64 0C58 32 32 52 0 52"),
      lines:
        mirrored(
          "M0 64C40 64 70 40 76 6M112 22C106 54 108 90 118 116M64 0C84 26 104 44 117 58M64 0C76 38 96 60 114 72",
        ) + [-32, 0, 32].map((x) => ellipse(x, 382, 5)).join(""),
      stitch: mirrored("M161 98L125 122M118 296C94 306 66 336 54 372L0 374"),
      texture: "knit",
      anchors: {
        collar: [0, 0],
        neckline: [0, 52],
        shoulder: [88, 11],
        cuff: [151, 119],
        hem: [0, 396],
        seam: [116, 210],
      },
    },
    {
      side: "back",
      body: both(
        "M0 16C30 16 56 10 64 0L112 22C140 46 156 76 170 106L132 132L118 116C113 180 117 236 126 290C98 300 74 320 64 372Q30 380 0 380",
      ),
      lines: mirrored("M0 28C36 28 68 20 76 6M112 22C106 54 108 90 118 116"),
      stitch: mirrored("M161 98L125 122M118 296C94 306 72 330 60 362"),
      texture: "knit",
      anchors: {
        collar: [0, 16],
        neckline: [0, 16],
        back: [0, 16],
        hem: [0, 380],
        seam: [116, 210],
      },
      lengths: { back: 300 },
    },
  ],
};

const closedSleeve: Drawing = {
  views: [
    {
      side: "side",
      body: both("M0 0Q17 -12 36 -2Q54 8 72 -4C71 150 64 320 60 460L0 460"),
      lines: mirrored("M0 424L61 424"),
      stitch: mirrored("M0 418L61 418M66 20C65 160 58 310 54 424"),
      anchors: { cuff: [0, 460], seam: [66, 200], hem: [0, 460], top: [0, 0] },
    },
  ],
};

export const tops = {
  "t-shirt": tShirt,
  "pique-polo": polo,
  sweatshirt,
  "woven-shirt": shirt,
  twill: apron,
  denim,
  softshell,
  fleece,
  "lined-jacket": gilet,
  "work-vest": vest,
  robe,
  tunic,
  "infant-bodysuit": bodysuit,
  "closed-sleeve": closedSleeve,
};
