// The page of one's own grips: each can be heard.
import { hearButtons } from "./hear.js";

hearButtons();
