import style from "./Loading.module.scss";
// What stands while a page comes: its outline, so that nothing moves when it is there.
export function Loading({ what }: { what: string }) {
  return (
    <div className={style["loading"]} role="status">
      <span className="visually-hidden">{what} …</span>
      {[0, 1, 2, 3, 4, 5].map((n) => (
        <span key={n} aria-hidden="true" />
      ))}
    </div>
  );
}
