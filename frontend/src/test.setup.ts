// What the tests' document lacks of a browser.
import "fake-indexeddb/auto";
