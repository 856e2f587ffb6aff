// What lives and dies on the screen; one module a matter. No rule of the job stands here.
import "./light.js";
import "./gloves.js";
import "./clock.js";
import "./drafts.js";
import "./queue.js";
import "./live.js";
import "./patience.js";
import "./better.js";
import "./files.js";
import "./focus.js";
import "./awake.js";
import "./keys.js";
import "./timers.js";
import "./glue.js";
import "./screens.js";
import "./pairing.js";
