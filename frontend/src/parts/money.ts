// Money in sight or out of it: the screen can be turned to a customer. Out of sight, the server is
// asked for no cost at all, and the page starts anew so that none is left in it.
const NAME = "clothyard.costs";

function kept(): string | null {
  try {
    return sessionStorage.getItem(NAME);
  } catch {
    return null; // a private window without storage: costs are in sight
  }
}

export const costsHidden = kept() === "hidden";

export function turnCosts() {
  sessionStorage.setItem(NAME, costsHidden ? "shown" : "hidden");
  window.location.reload();
}
