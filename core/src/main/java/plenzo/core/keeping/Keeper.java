package plenzo.core.keeping;

import java.util.List;
import java.util.function.Function;
import plenzo.core.person.Person;

/**
 * Plenzo's own records. What {@link #write} returns from is on the disk, even if the process is
 * killed next.
 */
public interface Keeper extends AutoCloseable {
  /** Runs one transaction; an exception rolls it back and goes on to the caller. */
  <T> T write(Function<Kept, T> work);

  /** How often a transaction that lost a race is begun anew (guess: never all of them in use). */
  int TRIES = 20;

  /**
   * The same, begun anew from reading when it lost a race; the work must do nothing outside the
   * records.
   *
   * @throws LostRace when it lost every time
   */
  default <T> T writeAgain(Function<Kept, T> work) {
    for (int attempt = 1; ; attempt++) {
      try {
        return write(work);
      } catch (LostRace e) {
        if (attempt == TRIES) {
          throw e;
        }
      }
    }
  }

  <T> T read(Function<Kept, T> work);

  /**
   * A number that grows when something of the application was written, or of the stages and paths:
   * what was worked out from those records after it was asked for holds as long as it stays the
   * same. It begins anew with the service.
   */
  long stamp(String application);

  /** The same of everything that pages show, the history too. */
  long stamp();

  /** The same of sessions and tokens alone. */
  long stampOfKeys();

  /** The same of stages, paths and what is said of applications. */
  long stampOfSetUp();

  /** The same of people with their rights, and of connections with their tests. */
  long stampOfPeople();

  /** Everybody, as now; read once for as long as nobody is changed. */
  List<Person> everybody();

  /** Identity of this service, made once. */
  String service();

  @Override
  void close();
}
