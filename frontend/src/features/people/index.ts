export { HomePage } from "./HomePage";
export { SignInPage } from "./SignInPage";
