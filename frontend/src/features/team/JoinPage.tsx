/** The address that a lesson's code stands in. */
import { useParams } from "react-router";
import { JoinForm } from "./JoinForm";

export default function JoinPage() {
  return <JoinForm given={useParams()["code"] ?? ""} why="" />;
}
