/** Why something that was entered is not stored yet. */
export const NO_CONNECTION = "No connection to the server; retrying. The number is kept here.";
export const NO_SESSION = "Your session has ended. The number is kept here; sign in again and it is sent.";

/** where a fault stands that is none of the input: it could not be sent */
export const LOST = "connection";
