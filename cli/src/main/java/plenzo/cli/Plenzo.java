package plenzo.cli;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.ScopeType;

/** The command {@code plenzo}: thing first, then verb. */
@Command(
    name = "plenzo",
    mixinStandardHelpOptions = true,
    version = "plenzo 0.1.0",
    scope = ScopeType.INHERIT,
    description = "Takes versioned application changes through stages, with proof and a way back.",
    usageHelpAutoWidth = true,
    footer = {
      "",
      "Examples:",
      "  plenzo standing",
      "  plenzo promotion prepare fares@2.4.0 --to test --wait",
      "",
      "Exit codes: 0 done, 2 usage, 3 not signed in, 4 not allowed, 5 not found,",
      "6 changed meanwhile, 7 stopped by a gate, 8 needs confirmation,",
      "9 run failed and nothing changed, 10 half written, 11 aborted,",
      "13 wait limit over, 14 differences, 15 not reachable,",
      "17 package or history not intact, or signer not trusted."
    })
public final class Plenzo implements Runnable {
  /** Every command that stands first, in the order of the help. */
  private static final List<Class<?>> COMMANDS =
      List.of(
          StandingCommand.class,
          WaitingCommand.class,
          AppCommand.class,
          StageCommand.class,
          SiteCommand.class,
          ConnectionCommand.class,
          PathCommand.class,
          BindingCommand.class,
          MaintenanceCommand.class,
          StateCommand.class,
          ComponentCommand.class,
          DraftCommand.class,
          VersionCommand.class,
          PackageCommand.class,
          KeyCommand.class,
          PromotionCommand.class,
          ReleaseCommand.class,
          WaveCommand.class,
          EvidenceCommand.class,
          RehearsalCommand.class,
          ScheduleCommand.class,
          RepeatCommand.class,
          ErrandCommand.class,
          WebhookCommand.class,
          NoticeCommand.class,
          FiguresCommand.class,
          CallCommand.class,
          CalendarCommand.class,
          WindowCommand.class,
          FreezeCommand.class,
          ProposalCommand.class,
          RunCommand.class,
          RollbackCommand.class,
          BackupCommand.class,
          HistoryCommand.class,
          RetentionCommand.class,
          CopyCommand.class,
          DriftCommand.class,
          UserCommand.class,
          RoleCommand.class,
          DeputyCommand.class,
          TokenCommand.class,
          LoginCommand.class,
          LogoutCommand.class,
          WhoamiCommand.class,
          ConfigCommand.class,
          ServerCommand.class,
          Completion.class,
          CommandLine.HelpCommand.class);

  @Option(names = "--json", scope = ScopeType.INHERIT, description = "Print JSON.")
  boolean json;

  @Option(
      names = {"-o", "--output"},
      scope = ScopeType.INHERIT,
      paramLabel = "FORMAT",
      description = "table, text, csv, json, ndjson (lists only) or ids.")
  @Nullable String output;

  @Option(
      names = "--no-header",
      scope = ScopeType.INHERIT,
      description = "Lists without their head.")
  boolean noHeader;

  @Option(
      names = "--columns",
      scope = ScopeType.INHERIT,
      split = ",",
      paramLabel = "A,B",
      description = "Columns of a list.")
  List<String> columns = List.of();

  @Option(
      names = "--sort",
      scope = ScopeType.INHERIT,
      paramLabel = "COLUMN[:desc]",
      description = "Order of a list.")
  @Nullable String sort;

  @Option(
      names = "--limit",
      scope = ScopeType.INHERIT,
      paramLabel = "N",
      defaultValue = "50",
      description = "Most lines of a list.")
  int limit = 50;

  @Option(names = "--all", scope = ScopeType.INHERIT, description = "Whole lists.")
  boolean all;

  @Option(
      names = {"-s", "--server"},
      scope = ScopeType.INHERIT,
      paramLabel = "URL",
      description = "Where to (PLENZO_SERVER).")
  @Nullable String server;

  @Option(
      names = {"-q", "--quiet"},
      scope = ScopeType.INHERIT,
      description = "Results only.")
  boolean quiet;

  @Option(
      names = {"-v", "--verbose"},
      scope = ScopeType.INHERIT,
      description = "Requests, times, request ids.")
  boolean[] verbose = {};

  @Option(
      names = "--color",
      scope = ScopeType.INHERIT,
      paramLabel = "WHEN",
      defaultValue = "auto",
      description = "auto, always or never.")
  String color = "auto";

  @Option(names = "--ascii", scope = ScopeType.INHERIT, description = "Words without marks.")
  boolean ascii;

  @Option(names = "--utc", scope = ScopeType.INHERIT, description = "Times in UTC.")
  boolean utc;

  @Option(
      names = {"-y", "--yes"},
      scope = ScopeType.INHERIT,
      description = "Answers a question; production needs --expect too.")
  boolean yes;

  @Option(
      names = "--confirm",
      scope = ScopeType.INHERIT,
      paramLabel = "NAME",
      description = "Answers a question about lost data.")
  @Nullable String confirm;

  @Option(
      names = "--expect",
      scope = ScopeType.INHERIT,
      paramLabel = "FINGERPRINT",
      description = "Go on only if the plan is still this one.")
  @Nullable String expect;

  @Option(names = "--no-input", scope = ScopeType.INHERIT, description = "Never ask.")
  boolean noInput;

  @Option(names = "--wait", scope = ScopeType.INHERIT, description = "Wait until it is done.")
  boolean wait;

  @Option(
      names = "--wait-limit",
      scope = ScopeType.INHERIT,
      paramLabel = "SECONDS",
      defaultValue = "1800",
      description = "Wait at most so long.")
  int waitLimit = 1800;

  @Option(
      names = "--retry-key",
      scope = ScopeType.INHERIT,
      paramLabel = "KEY",
      description = "Repeats a call safely.")
  @Nullable String retryKey;

  @CommandLine.Spec CommandLine.Model.@Nullable CommandSpec spec;

  private final Map<String, String> environment;
  private final InputStream in;

  Plenzo(Map<String, String> environment, InputStream in) {
    this.environment = environment;
    this.in = in;
  }

  @Override
  public void run() {
    throw usage(command());
  }

  static CommandLine.ParameterException usage(CommandLine command) {
    return new CommandLine.ParameterException(command, "Say what to do.");
  }

  private CommandLine command() {
    return java.util.Objects.requireNonNull(spec).commandLine();
  }

  Settings settings() {
    return new Settings(environment);
  }

  String address() {
    return settings().server(server).value();
  }

  Api api() {
    return new Api(
        address(),
        settings().token(address()),
        retryKey,
        verbose.length > 0 ? command().getErr() : null);
  }

  Api apiWithout() {
    return new Api(address(), java.util.Optional.empty(), retryKey, null);
  }

  boolean terminal(int stream) {
    return "1".equals(environment.get("PLENZO_TTY" + stream));
  }

  private String format() {
    String asked =
        json
            ? "json"
            : output != null ? output : environment.getOrDefault("PLENZO_OUTPUT", "table");
    List<String> known = List.of("table", "text", "csv", "json", "ndjson", "ids");
    if (!known.contains(asked)) {
      throw Failed.usage(
          "The format is one of " + String.join(", ", known) + "; got \"" + asked + "\".");
    }
    return asked;
  }

  Out out() {
    boolean colour =
        switch (color) {
          case "always" -> true;
          case "never" -> false;
          default ->
              !environment.getOrDefault("NO_COLOR", "").isEmpty()
                  ? false
                  : !environment.getOrDefault("CLICOLOR_FORCE", "").isEmpty() || terminal(1);
        };
    boolean plain = ascii || !Charset.defaultCharset().equals(StandardCharsets.UTF_8);
    return new Out(
        command().getOut(),
        command().getErr(),
        new Out.Look(
            format(),
            terminal(1),
            colour,
            plain,
            utc,
            quiet,
            !noHeader,
            new Out.ListLook(columns, sort, all ? Integer.MAX_VALUE : limit)));
  }

  boolean canAsk() {
    return !noInput && terminal(0) && terminal(2);
  }

  /** Asks on the error stream and reads a line. */
  String ask(String question) {
    PrintWriter err = command().getErr();
    err.print(question);
    err.flush();
    try {
      String line =
          new BufferedReader(new InputStreamReader(in, StandardCharsets.UTF_8)).readLine();
      return line == null ? "" : line.strip();
    } catch (IOException e) {
      return "";
    }
  }

  /** Everything on standard input, without its last line end. */
  String standardInput() {
    try {
      return new String(in.readNBytes(1 << 16), StandardCharsets.UTF_8).stripTrailing();
    } catch (IOException e) {
      throw Failed.usage("Standard input cannot be read.");
    }
  }

  /**
   * Reading every command's options takes most of a call's time, so only what the words may mean is
   * read; all of them where nothing fits, for the help and its suggestions.
   */
  private static void addCommands(CommandLine line, List<String> words) {
    if (words.equals(List.of("--version"))) {
      return;
    }
    List<Class<?>> named =
        COMMANDS.stream()
            .filter(c -> words.contains(c.getAnnotation(Command.class).name()))
            .toList();
    for (Class<?> command : named.isEmpty() ? COMMANDS : named) {
      line.addSubcommand(command);
    }
  }

  /** Every command that stands first. */
  static List<String> names() {
    return COMMANDS.stream().map(c -> c.getAnnotation(Command.class).name()).toList();
  }

  /**
   * The commands that the words may mean, ready to read them; all commands when there are no words.
   */
  static CommandLine line(Plenzo plenzo, List<String> words) {
    CommandLine line = new CommandLine(plenzo);
    addCommands(line, words);
    HelpText.shape(line);
    return line.setExpandAtFiles(false)
        .setAbbreviatedOptionsAllowed(false)
        .setAbbreviatedSubcommandsAllowed(false)
        .setColorScheme(CommandLine.Help.defaultColorScheme(CommandLine.Help.Ansi.OFF));
  }

  /** Runs one command; never throws. */
  public static int run(
      Map<String, String> environment,
      InputStream in,
      PrintWriter out,
      PrintWriter err,
      String... args) {
    Plenzo plenzo = new Plenzo(environment, in);
    if (args.length == 2 && args[0].equals(Completing.COMMAND)) {
      Completing.answer(plenzo, args[1], out);
      out.flush();
      return 0;
    }
    CommandLine line = line(plenzo, List.of(args)).setOut(out).setErr(err);
    line.setExecutionExceptionHandler(
        (e, command, result) -> {
          Failed failed =
              e instanceof Failed f
                  ? f
                  : new Failed(
                      Failed.BUG,
                      "UNEXPECTED",
                      "The client met an error of its own: " + e,
                      List.of("Try again with -v"),
                      "");
          if (!(e instanceof Failed) && plenzo.verbose.length > 1) {
            e.printStackTrace(err);
          }
          print(plenzo, failed, err);
          return failed.exitCode();
        });
    int code = line.execute(args);
    out.flush();
    err.flush();
    return code;
  }

  private static void print(Plenzo plenzo, Failed f, PrintWriter err) {
    if (plenzo.json || "json".equals(plenzo.output)) {
      Map<String, Object> error = new LinkedHashMap<>();
      error.put("code", f.code());
      error.put("message", f.getMessage());
      error.put("next", f.next());
      error.put("requestId", f.requestId());
      err.println(Api.JSON.writeValueAsString(Map.of("error", error)));
      return;
    }
    err.println(f.getMessage());
    String request = f.requestId().isEmpty() ? "" : " (request " + f.requestId() + ")";
    if (!f.next().isEmpty()) {
      err.println("Next: " + f.next().get(0) + request);
    } else if (!request.isEmpty()) {
      err.println(request.strip());
    }
  }

  public static void main(String[] args) {
    PrintWriter out =
        new PrintWriter(new java.io.OutputStreamWriter(System.out, StandardCharsets.UTF_8), true);
    PrintWriter err =
        new PrintWriter(new java.io.OutputStreamWriter(System.err, StandardCharsets.UTF_8), true);
    System.exit(run(System.getenv(), System.in, out, err, args));
  }
}
