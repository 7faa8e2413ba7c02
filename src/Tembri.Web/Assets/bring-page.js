import { bringer } from "./bringer.js";

document.addEventListener("alpine:init", () => window.Alpine.data("bringer", bringer));
