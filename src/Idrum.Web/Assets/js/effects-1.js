// What acts did by a package of format 1, which did not say so itself: for a device that still has one. Never changed.
export default {
  "operation-done": {
    does: [
      {
        do: "take",
        from: "out",
        by: {
          operation: "operationId",
        },
      },
      {
        do: "trays",
      },
      {
        do: "count",
        way: "out",
      },
    ],
    needsShop: false,

    begins: false,
  },
  "step-refitted": {
    does: [
      {
        do: "take",
        from: "back",
        by: {
          operation: "operationId",
          step: "stepId",
        },
      },
      {
        do: "stage",
        to: "back",
      },
      {
        do: "count",
        way: "in",
      },
    ],
    needsShop: false,

    begins: false,
  },
  "problem-noted": {
    does: [
      {
        do: "shift",
        sign: 1,
        when: {
          what: ["extra-screw"],
        },
      },
      {
        do: "shift",
        sign: -1,
        when: {
          what: ["missing-screw"],
        },
      },
      {
        do: "choose",
        by: {
          operation: "operationId",
          choice: "what",
        },
        when: {
          what: ["absent", "already-done", "left-out", "stuck"],
        },
      },
    ],
    needsShop: false,

    begins: false,
  },
  "count-settled": {
    does: [
      {
        do: "settle",
      },
      {
        do: "add",
        when: {
          why: ["found"],
          way: ["out"],
        },
      },
    ],
    needsShop: false,

    begins: false,
  },
  "station-entered": {
    does: [
      {
        do: "stage",
        by: {
          stage: "station",
        },
        words: {
          fit: "fit",
          rebuild: "back",
          prove: "end",
        },
      },
    ],
    needsShop: false,

    begins: false,
  },
  "why-answered": {
    does: [
      {
        do: "stage",
        to: "fit",
      },
      {
        do: "take",
        from: "fit",
        by: {
          part: "partId",
        },
        through: true,
      },
    ],
    needsShop: false,

    begins: false,
  },
  "glue-coated": {
    does: [
      {
        do: "stage",
        to: "fit",
      },
      {
        do: "take",
        from: "fit",
        by: {
          part: "partId",
        },
        through: true,
        orElse: [],
      },
      {
        do: "window",
        label: "Glue open: join",
      },
    ],
    needsShop: false,

    begins: true,
  },
  "glue-joined": {
    does: [
      {
        do: "stage",
        to: "fit",
      },
      {
        do: "take",
        from: "fit",
        by: {
          part: "partId",
        },
        through: true,
      },
      {
        do: "cure",
      },
    ],
    needsShop: false,

    begins: false,
  },
  "part-fitted": {
    does: [
      {
        do: "stage",
        to: "fit",
      },
      {
        do: "take",
        from: "fit",
        by: {
          part: "partId",
        },
        through: true,
      },
    ],
    needsShop: false,

    begins: false,
  },
  "glue-slipped": {
    does: [
      {
        do: "stage",
        to: "fit",
      },
      {
        do: "again",
        kinds: ["glue-joined", "part-fitted"],
      },
      {
        do: "window",
        label: "Glue tackier: set it again",
      },
    ],
    needsShop: false,

    begins: false,
  },
  "timer-started": {
    does: [
      {
        do: "start",
      },
    ],
    needsShop: false,

    begins: true,
  },
  "timer-stopped": {
    does: [
      {
        do: "stop",
      },
    ],
    needsShop: false,

    begins: false,
  },
  "note-added": {
    does: [],
    needsShop: false,

    kept: "Noted, kept here: {text}",
    begins: false,
  },
  "reading-taken": {
    does: [],
    needsShop: false,

    kept: "Read, kept here: {what} {value} {unit}",
    begins: false,
  },
  "photo-added": {
    does: [],
    needsShop: false,

    begins: false,
  },
  "step-note-ticked": {
    does: [],
    needsShop: false,

    begins: false,
  },
  "part-ordered": {
    does: [],
    needsShop: false,

    begins: false,
  },
  undone: {
    does: [],
    needsShop: false,
    turns: "takes-back",

    begins: false,
  },
  restored: {
    does: [],
    needsShop: false,
    turns: "brings-again",

    begins: false,
  },
};
