package plenzo.core.target;

import java.util.List;
import java.util.Optional;
import plenzo.core.telling.Letter;

/** Hands letters to a mail server. */
public interface Mail {
  /** A server that takes letters. */
  record Server(String host, int port) {}

  /** Where letters are handed over; empty where none are sent. */
  Optional<Server> server();

  /** Where people reach the console, without a slash at the end; empty where that is not said. */
  String reachedAt();

  /**
   * @param addresses what the server's name leads to, judged already, as digits
   * @throws TargetFailed when it was not taken
   */
  void send(Letter letter, List<String> addresses);

  /** Sends none. */
  Mail NONE =
      new Mail() {
        @Override
        public Optional<Server> server() {
          return Optional.empty();
        }

        @Override
        public String reachedAt() {
          return "";
        }

        @Override
        public void send(Letter letter, List<String> addresses) {
          throw new TargetFailed("No mail server is set", false, new IllegalStateException());
        }
      };
}
