package plenzo.engine;

import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Executor;
import java.util.function.LongSupplier;
import plenzo.core.keeping.Files;
import plenzo.core.keeping.Keeper;
import plenzo.core.person.Deputy;
import plenzo.core.person.Person;
import plenzo.core.problem.Problem;
import plenzo.core.target.Connector;
import plenzo.core.target.Mail;
import plenzo.core.target.Pages;
import plenzo.engine.underway.Underway;

/**
 * What every use case has at hand.
 *
 * @param connectors by sort of target
 * @param background where comparisons and runs are worked on
 * @param watching where targets that a run works on are watched, beside the run
 * @param underway where work that takes its time says how far it is
 * @param pages where pages are read that a question names
 * @param mail where letters are handed over
 * @param nanos what waiting is measured by: it never goes back, and not by leaps
 * @param beat how often a target that a run works on is asked whether it still answers
 */
public record Tools(
    Keeper keeper,
    Files files,
    Map<String, Connector> connectors,
    Vault vault,
    Clock clock,
    SecureRandom random,
    Executor background,
    Executor watching,
    Underway underway,
    Duration beat,
    Pages pages,
    Mail mail,
    LongSupplier nanos) {
  public Tools {
    connectors = Map.copyOf(connectors);
  }

  /** The present time in UTC, to the microsecond. */
  public Instant now() {
    return clock.instant().truncatedTo(ChronoUnit.MICROS);
  }

  /** Everybody with what they may now, also where they stand in for somebody. */
  public List<Person> everybody() {
    return Deputy.at(keeper.everybody(), now());
  }

  /** Somebody by their sign-in name, with what they may now; empty where they may not sign in. */
  public Optional<Person> somebody(String login) {
    return everybody().stream().filter(p -> p.login().equals(login) && !p.disabled()).findFirst();
  }

  /** A new identifier: 128 random bits. */
  public String newId() {
    byte[] bytes = new byte[16];
    random.nextBytes(bytes);
    return HexFormat.of().formatHex(bytes);
  }

  public Connector connector(String sort) {
    Connector connector = connectors.get(sort);
    if (connector == null) {
      throw Problem.invalid(
          "UNKNOWN_SORT",
          "There is no connector for \""
              + sort
              + "\"; known: "
              + String.join(", ", connectors.keySet()),
          "/sort");
    }
    return connector;
  }
}
