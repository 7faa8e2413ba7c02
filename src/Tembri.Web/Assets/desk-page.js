// The desk: its rows are fetched when they come into sight.
import { sayFailures } from "./page.js";

sayFailures();
