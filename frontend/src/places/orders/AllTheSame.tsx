// The answer to what was asked: it is so all the same.
export function AllTheSame({ onPress }: { onPress: () => void }) {
  return (
    <button type="button" className="btn btn-outline-primary btn-sm" onClick={onPress}>
      It is so all the same
    </button>
  );
}
