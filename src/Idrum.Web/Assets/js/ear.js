// What only the pages of listening, of the belt and of exercises need. A page that comes again by itself brings its script again: it is taken up once.
const root = document.documentElement;
if (!root.dataset.ear) {
  root.dataset.ear = "yes";
  import("./listen.js");
  import("./feel.js");
  import("./rehearse.js");
  import("./fast.js");
}
