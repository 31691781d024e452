package plenzo.connectors.host;

import java.net.URI;
import java.net.URISyntaxException;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.function.IntPredicate;
import java.util.function.UnaryOperator;
import plenzo.core.target.Pages;
import plenzo.core.target.TargetFailed;

/** Pages over HTTP: no sign-in, no redirects, bounded in time and size. */
public final class WebPages implements Pages {
  private static final int LONGEST = 1 << 20;
  private static final IntPredicate OK = status -> status == 200;
  private static final Duration CONNECT = Duration.ofSeconds(5);

  /** From the first byte to the last one of the answer. */
  private static final Duration TOTAL = Duration.ofSeconds(10);

  private final HttpClient client;

  public WebPages() {
    HostCalls.sayHosts();
    this.client =
        HttpClient.newBuilder()
            .version(HttpClient.Version.HTTP_1_1)
            .followRedirects(HttpClient.Redirect.NEVER)
            .connectTimeout(CONNECT)
            .build();
  }

  @Override
  public String read(String address, List<String> addresses) {
    return answered(address, addresses, HttpRequest.Builder::GET, TOTAL, OK);
  }

  @Override
  public String post(String address, List<String> addresses, String document, Duration within) {
    return answered(
        address,
        addresses,
        r ->
            r.header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(document)),
        within,
        OK);
  }

  @Override
  public void tell(
      String address,
      List<String> addresses,
      String document,
      Duration within,
      Map<String, String> headers) {
    answered(
        address,
        addresses,
        r -> {
          headers.forEach(r::header);
          return r.POST(HttpRequest.BodyPublishers.ofString(document));
        },
        within,
        status -> status >= 200 && status < 300);
  }

  private String answered(
      String address,
      List<String> addresses,
      UnaryOperator<HttpRequest.Builder> as,
      Duration within,
      IntPredicate taken) {
    URI page = URI.create(address);
    boolean byAddress =
        page.getScheme().equals("http") && !addresses.isEmpty() && HostCalls.saysHosts();
    HttpRequest.Builder request =
        HttpRequest.newBuilder(byAddress ? reached(page, addresses.get(0)) : page).timeout(within);
    if (byAddress) {
      request.header("Host", page.getRawAuthority());
    }
    CompletableFuture<HttpResponse<byte[]>> sent =
        client.sendAsync(as.apply(request).build(), head -> new WholeAnswer(LONGEST));
    try {
      HttpResponse<byte[]> answer = sent.get(within.toMillis(), TimeUnit.MILLISECONDS);
      if (!taken.test(answer.statusCode())) {
        throw new TargetFailed(
            page + " answered with status " + answer.statusCode(),
            /* notReachable= */ false,
            new IllegalStateException("status " + answer.statusCode()));
      }
      return new String(answer.body(), StandardCharsets.UTF_8);
    } catch (ExecutionException | CancellationException | TimeoutException e) {
      sent.cancel(true);
      Throwable why = e instanceof ExecutionException && e.getCause() != null ? e.getCause() : e;
      throw new TargetFailed(
          page
              + (e instanceof TimeoutException
                  ? " did not answer within " + within.toSeconds() + " s"
                  : " could not be read: " + why.getMessage()),
          /* notReachable= */ true,
          why);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new TargetFailed("Interrupted while a page was read", true, e);
    }
  }

  private static URI reached(URI page, String address) {
    try {
      return new URI(
          page.getScheme(), null, address, page.getPort(), page.getPath(), page.getQuery(), null);
    } catch (URISyntaxException e) {
      throw new TargetFailed(page + " is no address", false, e);
    }
  }
}
