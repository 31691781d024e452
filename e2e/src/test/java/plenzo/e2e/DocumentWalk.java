package plenzo.e2e;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.BiConsumer;
import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import plenzo.cli.Plenzo;

/**
 * Does what a document says: runs its blocks of SQL and of commands one after the other, as whoever
 * reads it would, and stops where one does not work.
 */
final class DocumentWalk {
  private static final Pattern WORD = Pattern.compile("\"([^\"]*)\"|(\\S+)");
  private static final String CLIENT = "bin/plenzo ";

  /** Exit code of what a gate stops. */
  private static final int STOPPED = 7;

  private final Path folder;
  private final BiConsumer<String, String> sql;
  private final UnaryOperator<String> own;
  private final Map<String, String> environment = new TreeMap<>();
  private final Map<String, String> said = new LinkedHashMap<>();
  private int commands;

  /**
   * @param folder where files that commands read from standard input lie
   * @param sql runs statements in a database
   * @param own exchanges names of the document for those of this world
   */
  DocumentWalk(Path folder, BiConsumer<String, String> sql, UnaryOperator<String> own) {
    this.folder = folder;
    this.sql = sql;
    this.own = own;
    environment.put("HOME", folder.toString());
    for (int stream = 0; stream < 3; stream++) {
      environment.put("PLENZO_TTY" + stream, "1"); // somebody sits there
    }
  }

  /** A block of the document: what language, and its lines. */
  record Block(String language, List<String> lines) {}

  record Chapter(String title, List<Block> blocks) {
    /** One of the blocks of commands, alone. */
    Chapter block(int nth) {
      return new Chapter(
          title, List.of(blocks.stream().filter(b -> b.language().equals("sh")).toList().get(nth)));
    }
  }

  static List<Chapter> chapters(Path document) throws IOException {
    List<Chapter> out = new ArrayList<>();
    Block open = null;
    for (String line : Files.readAllLines(document)) {
      if (line.startsWith("```")) {
        if (open == null) {
          open = new Block(line.substring(3), new ArrayList<>());
          out.get(out.size() - 1).blocks().add(open);
        } else {
          open = null;
        }
      } else if (open != null) {
        open.lines().add(line);
      } else if (line.startsWith("## ")) {
        out.add(new Chapter(line.substring(3), new ArrayList<>()));
      }
    }
    return out;
  }

  void follow(Chapter chapter) {
    for (Block block : chapter.blocks()) {
      switch (block.language()) {
        case "sql" -> statements(block.lines());
        case "sh" -> block.lines().stream().map(own).forEach(this::command);
        default -> {} // to be read
      }
    }
  }

  /** How many commands of the client were given. */
  int commands() {
    return commands;
  }

  /** What the last command that begins so printed. */
  String lastSaid(String begins) {
    return said.entrySet().stream()
        .filter(e -> e.getKey().startsWith(begins))
        .reduce((a, b) -> b)
        .orElseThrow(() -> new AssertionError("Nobody said " + begins))
        .getValue();
  }

  private void statements(List<String> lines) {
    String first = lines.get(0);
    if (!first.startsWith("-- in ")) {
      throw new AssertionError("A block of SQL begins with the databases that it is for: " + first);
    }
    String text = String.join("\n", lines.subList(1, lines.size()));
    for (String database : first.substring(6).split(", ")) {
      sql.accept(database, text);
    }
  }

  private void command(String line) {
    if (line.startsWith("export ")) {
      String[] set = line.substring(7).split("=", 2);
      environment.put(set[0], set[1]);
      return;
    }
    if (!line.startsWith(CLIENT)) {
      throw new AssertionError("Not a command of the client: " + line);
    }
    boolean stops = line.contains("# stops");
    String[] typed = line.replaceAll("# stops.*", "").split("# type: ");
    String[] parts = typed[0].strip().split(" < ");
    String input = typed.length > 1 ? typed[1].strip() + "\n" : "";
    try {
      input = parts.length > 1 ? Files.readString(folder.resolve(parts[1].strip())) : input;
    } catch (IOException e) {
      throw new AssertionError(line + " reads a file that nobody wrote", e);
    }
    run(line, words(parts[0].substring(CLIENT.length())), input, stops ? STOPPED : 0);
  }

  private static List<String> words(String text) {
    List<String> out = new ArrayList<>();
    Matcher m = WORD.matcher(text);
    while (m.find()) {
      out.add(m.group(1) != null ? m.group(1) : m.group(2));
    }
    return out;
  }

  private void run(String line, List<String> words, String input, int ends) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code =
        Plenzo.run(
            environment,
            new ByteArrayInputStream(input.getBytes(StandardCharsets.UTF_8)),
            new PrintWriter(out),
            new PrintWriter(err),
            words.toArray(String[]::new));
    commands++;
    String both = out + "\n" + err;
    said.remove(String.join(" ", words));
    said.put(String.join(" ", words), both);
    if (code != ends) {
      throw new AssertionError(
          "The document says\n" + line + "\nand that ends with " + code + ":\n" + both);
    }
  }
}
