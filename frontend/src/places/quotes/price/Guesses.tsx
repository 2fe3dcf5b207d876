// How much of the price is still guess: rates that nobody has set yet, by name.
import { useState } from "react";
import { Link } from "react-router";
import { useBench } from "../../../draft";
import { Dialog } from "../../../parts/Dialog";
import { capital, words } from "../../../parts/format";

export function Guesses() {
  const { price, editable } = useBench();
  const [open, setOpen] = useState(false);
  const rates = price.view.rates;
  if (!editable || !rates || rates.guessed === 0) return null;
  return (
    <>
      <button
        type="button"
        className="btn btn-plain hint d-block ms-auto"
        onClick={() => setOpen(true)}
      >
        {rates.guessed} of {rates.of} rates guessed
      </button>
      {open && (
        <Dialog title="What of this price is guess" onClose={() => setOpen(false)}>
          <p>
            These came with Clothyard, and nobody has set them here yet. Set them once, and every
            price stands on your own figures.
          </p>
          <ul>
            {rates.rates
              .filter((rate) => rate.guessed)
              .map((rate) => (
                <li key={rate.key}>
                  <Link to={`/workshop/standards?search=${rate.key}`}>
                    {capital(words(rate.name))}
                  </Link>
                  : {rate.value}
                </li>
              ))}
          </ul>
          <p className="mb-0">
            <Link to="/workshop/rates">Work my rates out of a year</Link>
          </p>
        </Dialog>
      )}
    </>
  );
}
