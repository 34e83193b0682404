export { FirstAccountPage } from "./FirstAccountPage";
export { SetPasswordPage } from "./SetPasswordPage";
export { SignInAgain, SignInPage } from "./SignInPage";
