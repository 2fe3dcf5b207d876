// A dialog with a name: what all our dialogs are.
import { useId } from "react";
import Modal from "react-bootstrap/Modal";

export interface DialogProps {
  title: string;
  children: React.ReactNode;
  footer?: React.ReactNode;
  size?: "lg" | "xl";
  onClose?: () => void; // without it, an answer must be given
}

export function DialogBox({ title, children, footer, size, onClose }: DialogProps) {
  const id = useId();
  return (
    <Modal
      show
      onHide={onClose}
      size={size}
      scrollable
      centered
      animation={false}
      aria-labelledby={id}
      backdrop={onClose ? true : "static"}
      keyboard={!!onClose}
    >
      <Modal.Header closeButton={!!onClose}>
        <Modal.Title as="h2" id={id}>
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>{children}</Modal.Body>
      {footer && <Modal.Footer>{footer}</Modal.Footer>}
    </Modal>
  );
}
