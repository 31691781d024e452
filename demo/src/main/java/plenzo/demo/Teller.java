package plenzo.demo;

import java.io.ByteArrayInputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import plenzo.cli.Plenzo;

/** Runs commands of the client as one person or another, and prints each with what came back. */
public final class Teller {
  private static final Pattern FINGERPRINT =
      Pattern.compile("\\b[0-9a-z]{4}-[0-9a-z]{4}-[0-9a-z]{4}\\b");

  private final String server;
  private final Map<String, String> tokens = new HashMap<>();
  private final PrintWriter to;

  /**
   * @param to where commands and answers are printed
   */
  public Teller(String server, PrintWriter to) {
    this.server = server;
    this.to = to;
  }

  /** What a command printed and how it ended. */
  public record Answer(int exitCode, String out, String err) {
    /** The first fingerprint in the output. */
    public String fingerprint() {
      Matcher m = FINGERPRINT.matcher(out + err);
      if (!m.find()) {
        throw new IllegalStateException("No fingerprint in: " + out + err);
      }
      return m.group();
    }

    /** The first number such as P-3. */
    public String number(String prefix) {
      Matcher m = Pattern.compile("\\b" + prefix + "-\\d+\\b").matcher(out + err);
      if (!m.find()) {
        throw new IllegalStateException("No " + prefix + "-number in: " + out + err);
      }
      return m.group();
    }

    /** The number of the step of a run whose line has this text. */
    public String step(String text) {
      return out.lines()
          .filter(line -> line.contains(text))
          .map(line -> line.strip().split("\\.")[0])
          .filter(n -> n.matches("\\d+"))
          .findFirst()
          .orElseThrow(() -> new IllegalStateException("No step with " + text + " in: " + out));
    }
  }

  public void say(String text) {
    to.println();
    to.println("# " + text);
    to.flush();
  }

  /** Signs a person in with a token of their own, as they would on their own machine. */
  public void signIn(String person, String password) {
    String home = System.getProperty("java.io.tmpdir");
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    tokens.put(person, Tokens.make(server, person, password));
    int code =
        Plenzo.run(
            environment(person, home),
            stream(""),
            new PrintWriter(out),
            new PrintWriter(err),
            "whoami");
    if (code != 0) {
      throw new IllegalStateException(person + " could not sign in: " + err);
    }
  }

  private Map<String, String> environment(String person, String home) {
    Map<String, String> out = new HashMap<>();
    out.put("HOME", home);
    out.put("PLENZO_SERVER", server);
    String token = tokens.get(person);
    if (token != null) {
      out.put("PLENZO_TOKEN", token);
    }
    return out;
  }

  /** What a command prints on a terminal, colours and marks included. */
  public String onTerminal(String person, String... command) {
    Map<String, String> environment = environment(person, System.getProperty("java.io.tmpdir"));
    environment.put("PLENZO_TTY1", "1");
    StringWriter out = new StringWriter();
    Plenzo.run(
        environment,
        stream(""),
        new PrintWriter(out),
        new PrintWriter(new StringWriter()),
        command);
    return out.toString();
  }

  private static ByteArrayInputStream stream(String text) {
    return new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8));
  }

  /** Runs a command that must end with the exit code. */
  public Answer run(String person, int expected, String... command) {
    return withInput(person, expected, "", command);
  }

  public Answer withInput(String person, int expected, String input, String... command) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    to.println(
        person
            + "$ plenzo "
            + String.join(" ", List.of(command).stream().map(Teller::quoted).toList()));
    int code =
        Plenzo.run(
            environment(person, System.getProperty("java.io.tmpdir")),
            stream(input),
            new PrintWriter(out),
            new PrintWriter(err),
            command);
    indented(out.toString());
    indented(err.toString());
    if (code != 0) {
      to.println("    (exit code " + code + ")");
    }
    to.flush();
    if (code != expected) {
      throw new IllegalStateException(
          "Expected exit code "
              + expected
              + ", got "
              + code
              + " from: plenzo "
              + String.join(" ", command)
              + "\n"
              + out
              + err);
    }
    return new Answer(code, out.toString(), err.toString());
  }

  /** Registers a connection to a database of this machine, by an account with that password. */
  public void connect(
      String person, String name, int port, String database, String account, String password) {
    withInput(
        person,
        0,
        password,
        "connection",
        "new",
        name,
        "--host",
        "127.0.0.1",
        "--port",
        String.valueOf(port),
        "--database",
        database,
        "--account",
        account,
        "--tls",
        "disable");
  }

  private void indented(String text) {
    text.lines().forEach(l -> to.println("    " + l));
  }

  private static String quoted(String part) {
    return part.matches("[A-Za-z0-9@/._=,:#-]+") ? part : "\"" + part + "\"";
  }
}
