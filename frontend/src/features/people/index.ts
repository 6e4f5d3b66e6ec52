/** What others use of the people. */
export { HomePage } from "./HomePage";
export { SignInPage } from "./SignInPage";
