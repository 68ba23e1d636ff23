import { countdownFigure, fullMoment, zoneCity, type LaunchView } from "../core/launch";
import { html, type Html } from "./html";

/** The bar with the countdown: the moment in words for everyone, the figure as of this answer, ticked on by the script. */
export const countdownBar = (countdown: LaunchView["countdown"], zone: string, now: Date): Html => {
  if (!countdown) return html``;
  const verb = countdown.to === "opening" ? "Doors open" : "Doors close";
  const until = countdown.until.getTime();
  return html`<div class="bar" data-until="${until}" data-now="${now.getTime()}">
    <span>${verb} ${fullMoment(countdown.until, zone)}, ${zoneCity(zone)} time</span><b role="timer">${countdownFigure(until - now.getTime())}</b
    ><noscript><span>left when this page was sent</span></noscript
    ><span class="sr" aria-live="polite" data-said></span>
  </div>`;
};
