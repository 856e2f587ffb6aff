// What only the pages of listening and of the belt need. A page that comes again by itself brings its script again: it is taken up once.
const root = document.documentElement;
if (!root.dataset.ear) {
  root.dataset.ear = "yes";
  import("./listen.js");
  import("./feel.js");
  import("./rehearse.js");
}
